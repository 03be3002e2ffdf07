import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { Schemas } from "../api/client";
import { headQuery, projectKey, projectsQuery, refreshProject } from "../api/queries";
import { sessionQuery } from "./session";

export type Present = Schemas["Present"];

/** How long after a connection was refused it is tried again. */
const AGAIN = 5_000;
/** How long news wait for what is on its way. */
const ON_ITS_WAY = 100;

/** Calls while it is possible to listen; a window that nobody sees does not. */
function listening(address: string, hear: (source: EventSource) => void): () => void {
  let source: EventSource | undefined;
  let again: ReturnType<typeof setTimeout> | undefined;
  const close = () => {
    clearTimeout(again);
    source?.close();
    source = undefined;
  };
  const open = () => {
    close();
    if (document.visibilityState === "hidden") return;
    source = new EventSource(address);
    source.onerror = () => {
      // It comes back by itself, unless it was refused.
      if (source?.readyState === EventSource.CLOSED) again = setTimeout(open, AGAIN);
    };
    hear(source);
  };
  document.addEventListener("visibilitychange", open);
  open();
  return () => {
    document.removeEventListener("visibilitychange", open);
    close();
  };
}

/** Reads a project again if it is no longer as it was read; what this window itself is changing comes first. */
function catchUp(client: QueryClient, project: number) {
  let waiting: ReturnType<typeof setTimeout> | undefined;
  const check = (at: number | null) => {
    clearTimeout(waiting);
    const isWriting = client.isMutating({ mutationKey: ["project", project] }) > 0;
    if (isWriting || client.isFetching({ queryKey: projectKey(project) }) > 0) {
      waiting = setTimeout(() => check(at), ON_ITS_WAY);
      return;
    }
    const known = client.getQueryData(headQuery(project).queryKey)?.at;
    if (known !== undefined && known !== at) void refreshProject(client, project);
  };
  return { check, stop: () => clearTimeout(waiting) };
}

/** Follows what others change in a project, and tells who else looks at it. */
export function useLiveProject(project: number, at: string): Present[] {
  const client = useQueryClient();
  const { data: session } = useQuery(sessionQuery);
  const [others, setOthers] = useState<Present[]>([]);
  const name = session?.name;
  // biome-ignore lint/correctness/useExhaustiveDependencies: somebody else listens with other eyes
  useEffect(() => {
    if (!Number.isInteger(project)) return;
    const { check, stop } = catchUp(client, project);
    const query = new URLSearchParams({ project: String(project), at });
    const close = listening(`/api/v1/events?${query}`, (source) => {
      source.addEventListener("project", ({ data }) => check(JSON.parse(data).at));
      source.addEventListener("people", ({ data }) => setOthers(JSON.parse(data)));
      source.addEventListener("all", () => void refreshProject(client, project));
    });
    return () => {
      close();
      stop();
    };
  }, [client, project, at, name]);
  return others;
}

/** Follows which projects there are. */
export function useLiveProjects() {
  const client = useQueryClient();
  useEffect(() => {
    const refresh = () => void client.invalidateQueries({ queryKey: projectsQuery.queryKey });
    return listening("/api/v1/events", (source) => {
      source.addEventListener("project", refresh);
      source.addEventListener("all", refresh);
    });
  }, [client]);
}
