import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Button } from "react-bootstrap";
import { Link, Outlet, useLocation, useOutletContext, useParams } from "react-router";
import { api, type Board, Refused, settled } from "../api/client";
import { boardQuery, refreshProject } from "../api/queries";
import { count } from "../drawing/numbers";
import { Notice } from "../notices/Notice";
import { failureText, useNotices } from "../notices/notices";
import { For } from "../people/may";
import { Others } from "../people/Others";
import { useLiveProject } from "../people/useLive";
import { Head } from "./Head";
import { keepLastProject } from "./lastProject";
import { ProjectTools } from "./ProjectTools";
import { TreatmentProvider } from "./treatment";

/** What every screen of a project shows a part of. */
export const useBoard = () => useOutletContext<Board>();

/** The screen of an address, as others are told where somebody is. */
function screenAt(pathname: string): string {
  const [, , , screen, first, second] = pathname.split("/");
  if (screen === "footage" && second) return second === "proof" ? "Proof" : "Sphere";
  if (screen === "board" && second) return pathname.endsWith("/proof") ? "Proof" : "Framing";
  if (screen === "board" && first) return first === "points" ? "Open points" : "Proof";
  if (screen === "handoff") return "Hand-off";
  return screen === "footage" ? "Footage" : screen === "deliveries" ? "Deliveries" : "Board";
}

export function ProjectLayout() {
  const project = Number(useParams().project);
  const others = useLiveProject(project, screenAt(useLocation().pathname));
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
        <main className="page" id="main">
          {error || !Number.isInteger(project) ? (
            <Notice role="alert">
              <span>{error ? failureText(error) : "This project does not exist."}</span>
              <Button onClick={() => refetch()}>Try again</Button>
              <Link to="/">All projects</Link>
            </Notice>
          ) : (
            <p className="quiet" role="status">
              Loading the project …
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
        beside={<Others others={others} />}
        tools={<ProjectTools board={board} />}
      />
      {error && !isFetching && (
        <Notice role="alert">
          <span>{failureText(error)} This is the last state that was loaded.</span>
          <Button onClick={() => refetch()}>Try again</Button>
        </Notice>
      )}
      {board.set_aside > 0 && (
        <Notice role="status">
          <span>
            This version cannot read {count(board.set_aside, "record")} of this project. Nothing is lost:{" "}
            {board.set_aside === 1 ? "it is" : "they are"} kept in the file.
          </span>
          <a href={`/api/v1/projects/${board.project.id}/set-aside`} download>
            Save {board.set_aside === 1 ? "it" : "them"} as a file
          </a>
        </Notice>
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
      tellFailure("Not restored", error);
    }
  };
  return (
    <>
      <Head />
      <main className="page" id="main">
        <Notice role="alert">
          <span>This project was deleted, perhaps in another window. Everything in it is still kept.</span>
          <For may="plan">
            <Button variant="ink" onClick={restore}>
              Restore project
            </Button>
          </For>
          <Link to="/">All projects</Link>
        </Notice>
      </main>
    </>
  );
}
