import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, Refused, settled } from "../api/client";
import { headQuery, refreshProject } from "../api/queries";
import { useNotices } from "../notices/notices";
import { restNow } from "./rest";
import { useWrite } from "./useWrite";

/** Undo, redo and any other step of a project's history. */
export function useHistory(project: number) {
  const client = useQueryClient();
  const { tell, tellFailure } = useNotices();
  const write = useWrite(["project", project]);
  const { data: head } = useQuery(headQuery(project));

  // Where it stands now; asked again only when something has changed since.
  const now = () => client.fetchQuery({ ...headQuery(project), staleTime: Number.POSITIVE_INFINITY });
  const move = async (at: number, to: number, says: string) => {
    try {
      const next = await settled(
        api.POST("/api/v1/projects/{project}/history/go", {
          params: { path: { project } },
          body: { from: at, to },
        }),
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
  const go = (to: number, says: string) => inTurn(async () => move((await now()).at, to, says));
  const undo = () =>
    inTurn(async () => {
      const { at, undo } = await now();
      if (undo) await move(at, undo.to, `Undone: ${undo.label}.`);
      else tell("Nothing to undo.");
    });
  const redo = () =>
    inTurn(async () => {
      const { at, redo } = await now();
      if (redo) await move(at, redo.to, `Redone: ${redo.label}.`);
      else tell("Nothing to redo.");
    });
  return { head, undo, redo, go };
}
