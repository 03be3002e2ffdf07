import { type QueryClient, queryOptions } from "@tanstack/react-query";
import { api, type Schemas, settled } from "../api/client";

export type Session = Schemas["SessionNow"];

/** Who is logged in, and whether anybody need be. */
export const sessionQuery = queryOptions({
  queryKey: ["session"],
  queryFn: ({ signal }) => settled(api.GET("/api/v1/session", { signal })),
  staleTime: Number.POSITIVE_INFINITY,
});

/** What the roles are called. */
export const ROLES: Record<NonNullable<Session["role"]>, string> = {
  look: "can look, not change",
  plan: "can plan",
  house: "can plan and change the library",
};

export async function logIn(client: QueryClient, name: string, password: string) {
  const session = await settled(api.POST("/api/v1/session", { body: { name, password } }));
  client.setQueryData(sessionQuery.queryKey, session);
  // What was refused before is asked for again.
  await client.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== sessionQuery.queryKey[0] });
}

export async function logOut(client: QueryClient) {
  await settled(api.DELETE("/api/v1/session"));
  // Nothing of what was read stays on a machine that others may sit at.
  client.clear();
  location.assign("/");
}
