import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, Refused, settled } from "../api/client";
import { inOrder, restNow } from "../api/inOrder";
import { headQuery, refreshProject } from "../api/queries";
import { useNotices } from "./notices";

/** Undo, redo and any other step of a project's history. */
export function useHistory(project: number) {
  const client = useQueryClient();
  const { tell, tellFailure } = useNotices();
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
          "The project was changed in another window meanwhile. You now see that; undo again if you still want to.",
        );
      else tellFailure("The history was not moved", error);
    }
    refreshProject(client, project);
  };
  const inTurn = (work: () => Promise<void>) => {
    restNow();
    return inOrder(project, work).catch((error) => tellFailure("The history was not moved", error));
  };
  const go = (to: number, says: string) => inTurn(async () => move((await now()).at, to, says));
  const undo = () =>
    inTurn(async () => {
      const { at, undo } = await now();
      if (undo) await move(at, undo.to, `Undone: ${undo.label}.`);
      else tell("There is nothing to undo.");
    });
  const redo = () =>
    inTurn(async () => {
      const { at, redo } = await now();
      if (redo) await move(at, redo.to, `Done again: ${redo.label}.`);
      else tell("There is nothing to do again.");
    });
  return { head, undo, redo, go };
}
