import { useQuery, useQueryClient } from "@tanstack/react-query";
import type { FormEvent } from "react";
import { Button, Table } from "react-bootstrap";
import { Link, useNavigate } from "react-router";
import { api, type Project, settled, wrongAt } from "../../api/client";
import { projectsQuery } from "../../api/queries";
import { Field } from "../../fields/Field";
import { useNewRecord, useRemoval } from "../../fields/RecordSheet";
import { useDraft } from "../../fields/useDraft";
import { Head } from "../../shell/Head";
import { failureText } from "../../shell/notices";

export function ProjectsScreen() {
  const { data: projects, error, refetch } = useQuery(projectsQuery);
  return (
    <>
      <Head />
      <main className="page">
        <div className="page-head">
          <h1>Projects</h1>
          <span className="quiet">
            each with its footage, its frames to deliver, and every conversion between them
          </span>
        </div>
        {error && (
          <div className="notice" role="alert">
            <span>{failureText(error)}</span>
            <Button onClick={() => refetch()}>Try again</Button>
          </div>
        )}
        <section className="sheet">
          <NewProject />
          {projects && projects.length > 0 && (
            <div className="rule across">
              <Table className="register">
                <thead>
                  <tr>
                    <th className="ps-3">name</th>
                    <th>sources</th>
                    <th>frames</th>
                    <th>last changed</th>
                    <th>
                      <span className="visually-hidden">what to do</span>
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {projects.map((project) => (
                    <ProjectRow key={project.id} project={project} />
                  ))}
                </tbody>
              </Table>
            </div>
          )}
          {projects?.length === 0 && <p className="quiet px-3">No project yet. Name one above to begin.</p>}
        </section>
      </main>
    </>
  );
}

function NewProject() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const { draft, refusal, edit, store } = useNewRecord({ name: "" }, async (body) => {
    const project = await settled(api.POST("/api/v1/projects", { body }));
    await client.invalidateQueries({ queryKey: projectsQuery.queryKey });
    navigate(`/projects/${project.id}/footage`);
  });
  const begin = (event: FormEvent) => {
    event.preventDefault();
    store();
  };
  return (
    <form className="d-flex gap-3 align-items-start p-3" onSubmit={begin}>
      <Field
        label="name of a new project"
        className="flex-grow-1"
        value={draft.name}
        wrong={wrongAt(refusal, "/name")}
        onText={(name) => edit({ name })}
      />
      <Button type="submit" variant="ink" className="mt-3">
        Begin it
      </Button>
    </form>
  );
}

function ProjectRow({ project }: { project: Project }) {
  const client = useQueryClient();
  const refresh = () => client.invalidateQueries({ queryKey: projectsQuery.queryKey });
  const path = { project: project.id };
  const match = (version: number) => ({ "If-Match": String(version) });
  const { value, typed, refusal, edit, commit, drop } = useDraft({
    draft: { name: project.name },
    version: project.version,
    refresh,
    save: async (draft, version) => {
      const saved = await settled(
        api.PUT("/api/v1/projects/{project}", { params: { path, header: match(version) }, body: draft }),
      );
      await refresh();
      return saved.version;
    },
  });
  const remove = useRemoval({
    name: project.name,
    refresh,
    remove: () =>
      settled(api.DELETE("/api/v1/projects/{project}", { params: { path, header: match(project.version) } })),
    restore: () => settled(api.POST("/api/v1/projects/{project}/restore", { params: { path } })),
  });
  return (
    <tr>
      <td className="ps-3">
        <Field
          label="name"
          className="bare"
          value={value.name}
          wrong={wrongAt(refusal, "/name")}
          onText={(name) => edit({ name })}
          onDone={commit}
          onEscape={drop}
        />
      </td>
      <td className="num">{project.sources}</td>
      <td className="num">{project.frames}</td>
      <td className="num">{new Date(project.changed_at).toISOString().slice(0, 16).replace("T", " ")} UTC</td>
      <td className="text-end">
        <Link
          className="btn btn-ink me-2"
          to={`/projects/${project.id}/board`}
          aria-label={`Open ${project.name}`}
        >
          Open
        </Link>
        <Button onClick={remove} aria-label={`Delete ${project.name}`} disabled={typed !== null}>
          Delete
        </Button>
      </td>
    </tr>
  );
}
