import { useQueryClient } from "@tanstack/react-query";
import {
  api,
  type ChoiceSet,
  type Conversion,
  type FramingValues,
  type Method,
  Refused,
  settled,
} from "../api/client";
import { type ConversionKey, conversionQuery, keepConversion } from "../api/queries";
import { useNotices } from "../notices/notices";
import { useWrite } from "./useWrite";

/** What a framing is before anybody moves it. */
export function plainFraming(method: Method): FramingValues {
  return { method, zoom: "1", shift: ["0", "0"] };
}

export function isMoved({ zoom, shift }: FramingValues): boolean {
  return Number(zoom) !== 1 || shift.some((each) => Number(each) !== 0);
}

/** The version of each conversion that this window itself made last. */
const ownVersions = new Map<string, number>();

/** Whether nothing that is set has become something else meanwhile. */
function isApart(body: ChoiceSet, before: Conversion["choice"], now: Conversion["choice"]): boolean {
  const parts = Object.keys(body) as (keyof ChoiceSet & keyof Conversion["choice"])[];
  return parts.every((part) => JSON.stringify(before[part]) === JSON.stringify(now[part]));
}

/** Gives conversions a framing of their own, or lets them follow. */
export function useChooseFraming(project: number) {
  const client = useQueryClient();
  const { tell, tellFailure } = useNotices();
  const write = useWrite(["project", project]);

  const put = async (key: Omit<ConversionKey, "project">, seen: number, body: ChoiceSet) => {
    const name = `${project}.${key.source}.${key.frame}`;
    const send = async (version: number) => {
      const set = await settled(
        api.PUT("/api/v1/projects/{project}/conversions/{source}/{frame}", {
          params: { path: { project, ...key }, header: { "If-Match": `"${version}"` } },
          body,
        }),
      );
      ownVersions.set(name, set.version);
      return set;
    };
    // What an earlier key has made of it meanwhile counts, not what was drawn when this one was pressed.
    const from = Math.max(seen, ownVersions.get(name) ?? 0);
    const known = client.getQueryData(conversionQuery({ project, ...key }).queryKey);
    const sent = send(from).catch((error) => {
      // What others have set of it meanwhile stays theirs, where this sets something else.
      const theirs = error instanceof Refused && error.problem.status === 412 && error.problem.current;
      const now = theirs ? (theirs as unknown as Conversion) : undefined;
      if (!now || known?.version !== from || !isApart(body, known.choice, now.choice)) throw error;
      return send(now.version);
    });
    const set = await sent;
    keepConversion(client, project, set);
    return set;
  };

  /** Chooses, and says so when that replaces a framing made by hand. Gives what stands then, if it was chosen. */
  return async (
    key: Omit<ConversionKey, "project">,
    version: number,
    choice: FramingValues | null | ChoiceSet,
    what: string,
    /** Whether the caller says itself that the server does not answer. */
    quiet = false,
  ): Promise<Conversion | "refused" | "unreachable"> => {
    const body: ChoiceSet = choice === null || "method" in choice ? { own: choice } : choice;
    const own = body.own;
    const query = conversionQuery({ project, ...key });
    try {
      const { before, set } = await write(async () => ({
        before:
          client.getQueryData(query.queryKey) ?? (version > 0 ? await client.fetchQuery(query) : undefined),
        set: await put(key, version, body),
      }));
      const replaced = own !== undefined && before?.crossing.speaker === "own" && isMoved(before.framing);
      if (replaced && !(own && isMoved(own))) {
        tell(`${what}: its zoom and shift were reset.`, {
          label: "Undo",
          run: () =>
            write(() => put(key, set.version, { own: before.framing })).catch((error) =>
              tellFailure("Not restored", error),
            ),
        });
      }
      return set;
    } catch (error) {
      if (!(error instanceof Refused)) {
        if (!quiet) tellFailure(`${what} was not changed`, error);
        return "unreachable";
      }
      if (error.problem.status === 412) {
        keepConversion(client, project, error.problem.current as unknown as Conversion);
        tell(
          `${what} was changed in another window. You now see the latest version; choose again if you still want to.`,
        );
      } else {
        tellFailure(`${what} was not changed`, error);
      }
      return "refused";
    }
  };
}
