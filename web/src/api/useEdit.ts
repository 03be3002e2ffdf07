import { useQueryClient } from "@tanstack/react-query";
import { failureText, useNotices } from "../shell/notices";
import { api, type Edit, type EditResult, type Problem, Refused, settled } from "./client";
import { headQuery, refreshProject } from "./queries";

/** What has come of an edit: what it did, or why it was refused. Never both. */
export type Edited = { done: EditResult; problem?: undefined } | { done?: undefined; problem?: Problem };

/** Carries out edits of a project; each is one step of its history, and says so with undo at hand. */
export function useEdit(project: number) {
  const client = useQueryClient();
  const { tell } = useNotices();

  const go = async (from: number, to: number) => {
    try {
      await settled(
        api.POST("/api/v1/projects/{project}/history/go", {
          params: { path: { project } },
          body: { from, to },
        }),
      );
    } catch (error) {
      tell(
        error instanceof Refused && error.problem.status === 412
          ? "The project has changed since: look at the history and go to the step you want."
          : `Not undone: ${failureText(error)}`,
      );
    }
    await refreshProject(client, project);
  };

  return async (edit: Edit): Promise<Edited> => {
    try {
      const done = await settled(
        api.POST("/api/v1/projects/{project}/edits", { params: { path: { project } }, body: edit }),
      );
      await refreshProject(client, project);
      if (done.step === null || done.step === undefined) {
        tell("Nothing to change: all of them are like that already.");
      } else {
        const step = done.step;
        const skipped = done.skipped > 0 ? ` ${done.skipped} that it is not for were left as they are.` : "";
        tell(`${done.label}.${skipped}`, {
          label: "Undo",
          run: async () => {
            const head = await client.fetchQuery(headQuery(project));
            await go(step, head.at === step && head.undo ? head.undo.to : step);
          },
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
