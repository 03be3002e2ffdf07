import { useQueryClient } from "@tanstack/react-query";
import { api, type Board, type Method, Refused, settled } from "../api/client";
import { boardQuery, refreshProject } from "../api/queries";
import { useNotices } from "../notices/notices";
import { write } from "./useWrite";

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
      await write(client, ["project", id], () => put(method));
    } catch (error) {
      if (error instanceof Refused && error.problem.status === 412)
        tell(
          "This project was changed in another window. You now see the latest version; choose again if you still want to.",
        );
      else tellFailure("Board method unchanged", error);
    }
    await refreshProject(client, id);
  };
}
