import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Button } from "react-bootstrap";
import { Link, Outlet, useOutletContext, useParams } from "react-router";
import { api, type Board, Refused, settled } from "../api/client";
import { boardQuery, refreshProject } from "../api/queries";
import { count } from "../drawing/numbers";
import { Head } from "./Head";
import { keepLastProject } from "./lastProject";
import { failureText, useNotices } from "./notices";
import { ProjectTools } from "./ProjectTools";
import { TreatmentProvider } from "./treatment";

/** What every screen of a project shows a part of. */
export const useBoard = () => useOutletContext<Board>();

export function ProjectLayout() {
  const project = Number(useParams().project);
  const {
    data: board,
    error,
    isFetching,
    refetch,
  } = useQuery({
    ...boardQuery(project),
    enabled: Number.isInteger(project),
  });
  useEffect(() => {
    if (board) keepLastProject({ id: board.project.id, name: board.project.values.name });
  }, [board]);
  if (error instanceof Refused && error.problem.status === 410) return <DeletedProject id={project} />;
  if (!board) {
    return (
      <>
        <Head />
        <main className="page">
          {error || !Number.isInteger(project) ? (
            <div className="notice" role="alert">
              <span>{error ? failureText(error) : "There is no such project."}</span>
              <Button onClick={() => refetch()}>Try again</Button>
              <Link to="/">Go to the projects</Link>
            </div>
          ) : (
            <p className="quiet" role="status">
              Reading the project …
            </p>
          )}
        </main>
      </>
    );
  }
  return (
    <TreatmentProvider>
      <Head
        project={{ id: board.project.id, name: board.project.values.name }}
        tools={<ProjectTools board={board} />}
      />
      {error && !isFetching && (
        <div className="notice" role="alert">
          <span>{failureText(error)} What you see is the last state that was read.</span>
          <Button onClick={() => refetch()}>Try again</Button>
        </div>
      )}
      {board.set_aside > 0 && (
        <div className="notice" role="status">
          <span>
            {count(board.set_aside, "record")} of this project cannot be read by this version and{" "}
            {board.set_aside === 1 ? "is" : "are"} set aside; nothing of it is lost.
          </span>
          <a href={`/api/v1/projects/${board.project.id}/set-aside`} download>
            Take them out as a file
          </a>
        </div>
      )}
      <Outlet context={board} />
    </TreatmentProvider>
  );
}

function DeletedProject({ id }: { id: number }) {
  const client = useQueryClient();
  const { tellFailure } = useNotices();
  const restore = async () => {
    try {
      await settled(api.POST("/api/v1/projects/{project}/restore", { params: { path: { project: id } } }));
      await refreshProject(client, id);
    } catch (error) {
      tellFailure("The project was not restored", error);
    }
  };
  return (
    <>
      <Head />
      <main className="page">
        <div className="notice" role="alert">
          <span>This project was deleted, perhaps in another window. All that it held is still kept.</span>
          <Button variant="ink" onClick={restore}>
            Restore it
          </Button>
          <Link to="/">Go to the projects</Link>
        </div>
      </main>
    </>
  );
}
