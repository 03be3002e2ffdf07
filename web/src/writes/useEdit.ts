import { useQueryClient } from "@tanstack/react-query";
import { api, type Edit, type EditResult, type Problem, Refused, settled } from "../api/client";
import { headQuery, refreshProject } from "../api/queries";
import { count } from "../drawing/numbers";
import { failureText, useNotices } from "../notices/notices";
import { useWrite } from "./useWrite";

/** What has come of an edit: what it did, or why it was refused. Never both. */
export type Edited =
  | { done: EditResult; problem?: undefined }
  | { done?: undefined; problem?: Problem | undefined };

/** Carries out edits of a project; each is one step of its history, and says so with undo at hand. */
export function useEdit(project: number) {
  const client = useQueryClient();
  const { tell } = useNotices();
  const write = useWrite(["project", project]);

  const undo = async (step: number) => {
    try {
      const head = await client.fetchQuery(headQuery(project));
      const params = { path: { project } };
      await settled(
        head.undo?.takes_back === step
          ? api.POST("/api/v1/projects/{project}/history/take-back", {
              params,
              body: { from: head.at, step },
            })
          : api.POST("/api/v1/projects/{project}/history/go", {
              params,
              // From where it stood after this change, so that nothing done since is undone unseen.
              body: { from: step, to: head.at === step && head.undo ? head.undo.to : step },
            }),
      );
    } catch (error) {
      tell(
        error instanceof Refused && error.problem.status === 412
          ? "The project has changed since. Open the history and go to the step you want."
          : `Not undone: ${failureText(error)}`,
      );
    }
    void refreshProject(client, project);
  };

  return async (edit: Edit): Promise<Edited> => {
    try {
      const { done, refreshed } = await write(async () => {
        const done = await settled(
          api.POST("/api/v1/projects/{project}/edits", { params: { path: { project } }, body: edit }),
        );
        return { done, refreshed: refreshProject(client, project) };
      });
      await refreshed;
      const out =
        done.left_out > 0
          ? ` ${count(done.left_out, "framing")} left out, for another size than that at which the source is stored.`
          : "";
      if (done.step === null || done.step === undefined) {
        tell(`Nothing to change: they are all set like that already.${out}`);
      } else {
        const step = done.step;
        const skipped = done.skipped > 0 ? ` ${done.skipped} it does not apply to were left unchanged.` : "";
        tell(`${done.label}.${skipped}${out}`, {
          label: "Undo",
          run: () => write(() => undo(step)),
        });
      }
      return { done };
    } catch (error) {
      const problem = error instanceof Refused ? error.problem : undefined;
      tell(`Nothing changed: ${failureText(error)}`);
      return { problem };
    }
  };
}
