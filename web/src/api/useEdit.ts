import { useQueryClient } from "@tanstack/react-query";
import { failureText, useNotices } from "../shell/notices";
import { api, type Edit, type EditResult, type Problem, Refused, settled } from "./client";
import { inOrder } from "./inOrder";
import { headQuery, refreshProject } from "./queries";

/** What has come of an edit: what it did, or why it was refused. Never both. */
export type Edited = { done: EditResult; problem?: undefined } | { done?: undefined; problem?: Problem };

/** Carries out edits of a project; each is one step of its history, and says so with undo at hand. */
export function useEdit(project: number) {
  const client = useQueryClient();
  const { tell } = useNotices();

  const undo = async (step: number) => {
    try {
      const head = await client.fetchQuery(headQuery(project));
      await settled(
        api.POST("/api/v1/projects/{project}/history/go", {
          params: { path: { project } },
          // From where it stood after this change, so that nothing done since is undone unseen.
          body: { from: step, to: head.at === step && head.undo ? head.undo.to : step },
        }),
      );
    } catch (error) {
      tell(
        error instanceof Refused && error.problem.status === 412
          ? "The project has changed since: look at the history and go to the step you want."
          : `Not undone: ${failureText(error)}`,
      );
    }
    refreshProject(client, project);
  };

  return async (edit: Edit): Promise<Edited> => {
    try {
      const { done, refreshed } = await inOrder(project, async () => {
        const done = await settled(
          api.POST("/api/v1/projects/{project}/edits", { params: { path: { project } }, body: edit }),
        );
        return { done, refreshed: refreshProject(client, project) };
      });
      await refreshed;
      if (done.step === null || done.step === undefined) {
        tell("Nothing to change: all of them are like that already.");
      } else {
        const step = done.step;
        const skipped = done.skipped > 0 ? ` ${done.skipped} that it is not for were left as they are.` : "";
        tell(`${done.label}.${skipped}`, {
          label: "Undo",
          run: () => inOrder(project, () => undo(step)),
        });
      }
      return { done };
    } catch (error) {
      const problem = error instanceof Refused ? error.problem : undefined;
      tell(`Nothing was changed: ${failureText(error)}`);
      return { problem };
    }
  };
}
