//! Links that show the plan of a project to whoever has them, until a day.

use diesel::prelude::*;
use ratiomet_core::project::ProjectId;

use crate::error::{Answer, StoreError};
use crate::rows;
use crate::schema::{links, projects};
use crate::store::Store;

/// The most links of a project.
const MOST: i64 = 200;

/// A link that shows a plan.
#[derive(Clone, Debug, PartialEq, Eq, Queryable, Selectable)]
#[diesel(table_name = links)]
pub struct Link {
    /// Its number.
    pub id: i32,
    /// For whom it is.
    pub name: String,
    /// When it ends, in milliseconds since 1970, UTC.
    pub until: i64,
    /// When it was made, in milliseconds since 1970, UTC.
    pub made_at: i64,
    /// By whom, where people are known.
    pub made_by: Option<String>,
}

impl Store {
    /// The links of a project, the newest first.
    ///
    /// # Errors
    /// When the project is unknown or deleted.
    pub fn links(&self, project: ProjectId) -> Answer<Vec<Link>> {
        self.read(|connection, _| {
            rows::project_row(connection, project)?;
            let of_project = links::table.filter(links::project_id.eq(project.number())).order(links::id.desc());
            Ok(of_project.select(Link::as_select()).load(connection)?)
        })
    }

    /// Makes a link that is known by a digest; the oldest makes room where there are very many.
    ///
    /// # Errors
    /// When the project is unknown or deleted.
    pub fn add_link(&self, project: ProjectId, name: &str, sha256: &str, until: i64) -> Answer<Link> {
        self.write(|connection, _| {
            let made = self.made();
            rows::project_row(connection, project)?;
            let of_project = links::table.filter(links::project_id.eq(project.number()));
            if of_project.count().get_result::<i64>(connection)? >= MOST {
                let oldest: i32 = of_project.order(links::id).select(links::id).first(connection)?;
                diesel::delete(links::table.find(oldest)).execute(connection)?;
            }
            Ok(diesel::insert_into(links::table)
                .values((
                    links::project_id.eq(project.number()),
                    links::name.eq(name),
                    links::sha256.eq(sha256),
                    links::until.eq(until),
                    links::made_at.eq(made.at),
                    links::made_by.eq(made.by.as_deref()),
                ))
                .returning(Link::as_returning())
                .get_result(connection)?)
        })
    }

    /// Takes a link back: it shows nothing any more.
    ///
    /// # Errors
    /// When the project has no such link.
    pub fn remove_link(&self, project: ProjectId, id: i32) -> Answer<()> {
        self.write(|connection, _| {
            let link = links::table.filter(links::project_id.eq(project.number())).filter(links::id.eq(id));
            match diesel::delete(link).execute(connection)? {
                0 => Err(StoreError::Unknown { what: "link", id }),
                _ => Ok(()),
            }
        })
    }

    /// The project that a link shows; none when it has ended, was taken back, or the project is deleted.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn linked(&self, sha256: &str) -> Answer<Option<ProjectId>> {
        let now = self.now();
        self.read(|connection, _| {
            let project: Option<i32> = links::table
                .inner_join(projects::table.on(projects::id.eq(links::project_id)))
                .filter(links::sha256.eq(sha256))
                .filter(links::until.gt(now))
                .filter(projects::deleted_at.is_null())
                .select(links::project_id)
                .first(connection)
                .optional()?;
            Ok(project.map(ProjectId::new))
        })
    }
}
