import { type QueryClient, useQueryClient } from "@tanstack/react-query";

/** What a write changes: one project, the list of projects, or the house library. */
export type Target = readonly ["project", number] | readonly ["projects"] | readonly ["library"];

/**
 * Carries out one write after the other, in the order in which they were asked for, however fast the
 * keys come: an undo that follows a change undoes that change. Each target has an order of its own.
 */
export function write<T>(client: QueryClient, target: Target, work: () => Promise<T>): Promise<T> {
  const mutation = client.getMutationCache().build<T, Error, void, unknown>(client, {
    mutationKey: target,
    mutationFn: work,
    scope: { id: target.join(" ") },
    // Whether the browser thinks that it is online says nothing of a server on this machine.
    networkMode: "always",
    retry: false,
  });
  return mutation.execute(undefined);
}

/** The same for one target. */
export function useWrite(target: Target) {
  const client = useQueryClient();
  return <T>(work: () => Promise<T>) => write(client, target, work);
}
