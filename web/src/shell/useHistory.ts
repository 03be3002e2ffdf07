import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, Refused, settled } from "../api/client";
import { headQuery, refreshProject } from "../api/queries";
import { useNotices } from "./notices";

/** Undo, redo and any other step of a project's history. */
export function useHistory(project: number) {
  const client = useQueryClient();
  const { tell, tellFailure } = useNotices();
  const { data: head } = useQuery(headQuery(project));

  const go = async (to: number, says: string) => {
    const at = (client.getQueryData(headQuery(project).queryKey) ?? head)?.at;
    if (at === undefined) return;
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
    await refreshProject(client, project);
  };
  const latest = () => client.getQueryData(headQuery(project).queryKey) ?? head;
  const undo = () => {
    const turn = latest()?.undo;
    if (turn) return go(turn.to, `Undone: ${turn.label}.`);
    tell("There is nothing to undo.");
  };
  const redo = () => {
    const turn = latest()?.redo;
    if (turn) return go(turn.to, `Done again: ${turn.label}.`);
    tell("There is nothing to do again.");
  };
  return { head, undo, redo, go };
}
