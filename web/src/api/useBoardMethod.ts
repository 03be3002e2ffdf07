import { useQueryClient } from "@tanstack/react-query";
import { useNotices } from "../shell/notices";
import { api, type Board, type Method, Refused, settled } from "./client";
import { inOrder } from "./inOrder";
import { boardQuery, refreshProject } from "./queries";

/** Sets the method of the whole board: what has one of its own keeps it. */
export function useBoardMethod({ project: shown }: Board) {
  const client = useQueryClient();
  const { tell, tellFailure } = useNotices();
  const { id } = shown;
  const { queryKey } = boardQuery(id);
  const put = async (method: Method) => {
    const { version, values } = client.getQueryData(queryKey)?.project ?? shown;
    const project = await settled(
      api.PUT("/api/v1/projects/{project}", {
        params: { path: { project: id }, header: { "If-Match": `"${version}"` } },
        body: { ...values, method },
      }),
    );
    client.setQueryData(queryKey, (board) => board && { ...board, project });
  };
  return async (method: Method) => {
    try {
      await inOrder(id, () => put(method));
    } catch (error) {
      if (error instanceof Refused && error.problem.status === 412)
        tell(
          "The project was changed in another window. You now see that; choose again if you still want to.",
        );
      else tellFailure("The board's method was not changed", error);
    }
    await refreshProject(client, id);
  };
}
