import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type ChangeEvent, type FormEvent, useState } from "react";
import { Button, Form, Table } from "react-bootstrap";
import { Link, useNavigate } from "react-router";
import { api, type Problem, type Project, preview, settled, wrongAt } from "../../api/client";
import { projectsQuery } from "../../api/queries";
import { When } from "../../drawing/When";
import { Field } from "../../fields/Field";
import { fileText } from "../../fields/fileText";
import { useNewRecord, useRemoval } from "../../fields/RecordSheet";
import { useDraft } from "../../fields/useDraft";
import { Notice } from "../../notices/Notice";
import { failureText, useNotices } from "../../notices/notices";
import { Fixed, For, useMay } from "../../people/may";
import { useLiveProjects } from "../../people/useLive";
import { Head } from "../../shell/Head";
import { ScreenHead } from "../../shell/ScreenHead";
import { tip } from "../../tip";
import { useOnce } from "../../writes/useOnce";
import { FirstSteps } from "./FirstSteps";
import { NEW_PROJECT } from "./newProject";

export function ProjectsScreen() {
  useLiveProjects();
  const { data: projects, error, refetch } = useQuery(projectsQuery);
  return (
    <>
      <Head />
      <main className="page" id="main">
        <ScreenHead title="Projects" />
        {error && (
          <Notice role="alert">
            <span>{failureText(error)}</span>
            <Button onClick={() => refetch()}>Try again</Button>
          </Notice>
        )}
        <section className="sheet">
          <For may="plan">
            <NewProject />
            <ProjectFromFile />
          </For>
          {projects && projects.length > 0 && (
            <div className="rule across">
              <Table className="register projects">
                <thead>
                  <tr>
                    <th className="ps-3">name</th>
                    <th>sources</th>
                    <th>frames</th>
                    <th>last changed</th>
                    <th>
                      <span className="visually-hidden">actions</span>
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
          {projects?.length === 0 && <FirstSteps />}
        </section>
      </main>
    </>
  );
}

function NewProject() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const { draft, refusal, edit, store, pending } = useNewRecord({ name: "" }, async ({ name }) => {
    const project = await settled(api.POST("/api/v1/projects", { body: { ...NEW_PROJECT, name } }));
    await client.invalidateQueries({ queryKey: projectsQuery.queryKey });
    void navigate(`/projects/${project.id}/footage`);
  });
  const begin = (event: FormEvent) => {
    event.preventDefault();
    void store();
  };
  return (
    <form className="d-flex gap-3 align-items-start p-3 pb-1" onSubmit={begin}>
      <Field
        label="project name"
        className="flex-grow-1"
        value={draft.name}
        wrong={wrongAt(refusal, "/name")}
        onText={(name) => edit({ name })}
      />
      <Button type="submit" variant="ink" className="mt-3" aria-disabled={pending}>
        {pending ? "Creating …" : "Create project"}
      </Button>
    </form>
  );
}

/** A project file by itself. */
async function alone(file: File) {
  const text = await fileText(file);
  return api.POST("/api/v1/projects/import", { body: text as never, bodySerializer: () => text });
}

/** A project with its stills. */
const withStills = (file: File) =>
  api.POST("/api/v1/projects/import/archive", {
    body: file as never,
    bodySerializer: (body) => body as unknown as Blob,
    headers: { "Content-Type": "application/octet-stream" },
  });

/** A project out of a file that was saved here or elsewhere. */
function ProjectFromFile() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const { tellFailure } = useNotices();
  const [refused, setRefused] = useState<Problem>();
  const { run: open } = useOnce(async (event: ChangeEvent<HTMLInputElement>) => {
    const input = event.target;
    const [file] = input.files ?? [];
    if (!file) return;
    setRefused(undefined);
    try {
      const opened = await preview(file.name.toLowerCase().endsWith(".zip") ? withStills(file) : alone(file));
      if (opened.sound) {
        await client.invalidateQueries({ queryKey: projectsQuery.queryKey });
        void navigate(`/projects/${opened.value.id}/board`);
      } else setRefused(opened.problem);
    } catch (error) {
      tellFailure("Nothing was imported", error);
    }
    input.value = "";
  });
  const errors = refused?.errors ?? [];
  return (
    <div className="px-3 pb-3">
      <div className="d-flex gap-2 align-items-center flex-wrap">
        <label className="quiet" htmlFor="project-file">
          or open a project file
        </label>
        <Form.Control
          id="project-file"
          type="file"
          size="sm"
          className="w-auto mw-100"
          accept=".json,.zip,application/json,application/zip"
          onChange={open}
        />
      </div>
      {refused && (
        <Notice className="mt-2" role="alert">
          <div>
            <b>Nothing was imported. {refused.title}.</b>
            <ul className="mb-0">
              {errors.slice(0, 6).map((each) => (
                <li key={each.pointer + each.detail}>
                  <span className="num">{each.pointer || "the file"}</span>: {each.detail}
                </li>
              ))}
              {errors.length > 6 && <li>and {errors.length - 6} more</li>}
              {errors.length === 0 && <li>{refused.detail}</li>}
            </ul>
          </div>
        </Notice>
      )}
    </div>
  );
}

function ProjectRow({ project }: { project: Project }) {
  const client = useQueryClient();
  const { tell, tellFailure } = useNotices();
  const plans = useMay("plan");
  const refresh = () => client.invalidateQueries({ queryKey: projectsQuery.queryKey });
  const path = { project: project.id };
  const { name } = project.values;
  const match = (version: number) => ({ "If-Match": `"${version}"` });
  const { value, typed, refusal, edit, commit, drop } = useDraft({
    draft: project.values,
    version: project.version,
    read: (record) => (record as Project).values,
    refresh,
    save: async (draft, version) => {
      const saved = await settled(
        api.PUT("/api/v1/projects/{project}", {
          params: { path, header: match(version) },
          body: draft,
        }),
      );
      await refresh();
      return saved.version;
    },
  });
  const remove = useRemoval({
    name,
    refresh,
    remove: () =>
      settled(api.DELETE("/api/v1/projects/{project}", { params: { path, header: match(project.version) } })),
    restore: () => settled(api.POST("/api/v1/projects/{project}/restore", { params: { path } })),
  });
  const { run: duplicate, pending } = useOnce(async () => {
    try {
      const copy = await settled(api.POST("/api/v1/projects/{project}/duplicate", { params: { path } }));
      tell(`“${copy.values.name}” created.`);
    } catch (error) {
      tellFailure("Not copied", error);
    }
    void refresh();
  });
  return (
    <tr>
      <td className="ps-3">
        <Fixed may="plan">
          <Field
            label="name"
            className="bare"
            value={value.name}
            wrong={wrongAt(refusal, "/name")}
            onText={(name) => edit({ name })}
            onDone={commit}
            onEscape={drop}
          />
        </Fixed>
      </td>
      <td className="num">
        {project.sources}
        <span className="of"> {project.sources === 1 ? "source" : "sources"}</span>
      </td>
      <td className="num">
        {project.frames}
        <span className="of"> {project.frames === 1 ? "frame" : "frames"}</span>
      </td>
      <td>
        <When at={project.changed_at} />
      </td>
      <td className="text-end commands">
        <Link className="btn btn-ink me-2" to={`/projects/${project.id}/board`} aria-label={`Open ${name}`}>
          Open
        </Link>
        {plans && (
          <Button className="me-2" aria-disabled={pending} onClick={duplicate} aria-label={`Copy ${name}`}>
            Copy
          </Button>
        )}
        <a
          className="btn me-2"
          href={`/api/v1/projects/${project.id}/export`}
          download={`${name.replace(/[^\p{L}\p{N} -]+/gu, "").trim() || "project"}.json`}
          aria-label={`Export ${name}`}
        >
          Export
        </a>
        <a
          className="btn me-2"
          href={`/api/v1/projects/${project.id}/archive`}
          download
          aria-label={`Export with stills ${name}`}
          {...tip("The project and the stills of its sources, in one ZIP file")}
        >
          Export with stills
        </a>
        {plans && (
          <Button onClick={remove} aria-label={`Delete ${name}`} disabled={typed !== null}>
            Delete
          </Button>
        )}
      </td>
    </tr>
  );
}
