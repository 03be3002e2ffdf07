import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type HistoryHead, Refused, settled } from "../api/client";
import { headQuery, refreshProject } from "../api/queries";
import { useNotices } from "../notices/notices";
import { restNow } from "./rest";
import { useWrite } from "./useWrite";

type InTheWay = NonNullable<HistoryHead["in_the_way"]>;

interface Way {
  to: number;
  takes_back?: number | null;
}

/** Why somebody's newest change is not undone. */
export function wayText({ undo, label, by }: InTheWay): string {
  return `Not undone: “${undo}”. ${by ?? "Somebody"} has changed the same since: “${label}”. Change it by hand, or go to an earlier step in the history.`;
}

/** Undo, redo and any other step of a project's history. */
export function useHistory(project: number) {
  const client = useQueryClient();
  const { tell, tellFailure } = useNotices();
  const write = useWrite(["project", project]);
  const { data: head } = useQuery(headQuery(project));

  // Where it stands now; asked again only when something has changed since.
  const now = () => client.fetchQuery({ ...headQuery(project), staleTime: Number.POSITIVE_INFINITY });
  const move = async (at: number, { to, takes_back }: Way, says: string) => {
    const params = { path: { project } };
    try {
      const next = await settled(
        takes_back
          ? api.POST("/api/v1/projects/{project}/history/take-back", {
              params,
              body: { from: at, step: takes_back },
            })
          : api.POST("/api/v1/projects/{project}/history/go", { params, body: { from: at, to } }),
      );
      client.setQueryData(headQuery(project).queryKey, next);
      tell(says);
    } catch (error) {
      if (error instanceof Refused && error.problem.status === 412)
        tell(
          "This project was changed in another window. You now see the latest version; undo again if you still want to.",
        );
      else tellFailure("History unchanged", error);
    }
    void refreshProject(client, project);
  };
  const inTurn = (work: () => Promise<void>) => {
    restNow();
    return write(work).catch((error) => tellFailure("History unchanged", error));
  };
  const go = (to: number, says: string) => inTurn(async () => move((await now()).at, { to }, says));
  const undo = () =>
    inTurn(async () => {
      const { at, undo, in_the_way: way } = await now();
      if (undo) await move(at, undo, `Undone: ${undo.label}.`);
      else if (way) tell(wayText(way));
      else tell("Nothing to undo.");
    });
  const redo = () =>
    inTurn(async () => {
      const { at, redo } = await now();
      if (redo) await move(at, redo, `Redone: ${redo.label}.`);
      else tell("Nothing to redo.");
    });
  return { head, undo, redo, go };
}
