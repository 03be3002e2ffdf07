import { api, type Board, settled } from "./client";

/** Boards as they were told last: what the screens show may be ahead of them by a change that is on its way. */
const told = new Map<number, Board>();

/** Reads the board of a project; of one that was read before, only what has changed is sent. */
export async function readBoard(project: number, signal: AbortSignal): Promise<Board> {
  const before = told.get(project);
  const query = before ? { since: before.revision } : {};
  const answer = await settled(
    api.GET("/api/v1/projects/{project}/board", { signal, params: { path: { project }, query } }),
  );
  const board = before && answer.since === before.revision ? renewed(before, answer) : answer;
  told.set(project, board);
  return board;
}

/** A board with what has changed of it. What has not is the very same, so that nothing is drawn again for it. */
export function renewed(before: Board, changes: Board): Board {
  const { source_ids, frame_ids } = changes;
  const crossings = byKey(
    [...before.crossings, ...changes.crossings],
    ({ source, frame }) => `${source} ${frame}`,
  );
  const sources = byKey([...before.sources, ...changes.sources], ({ id }) => id);
  const frames = byKey([...before.frames, ...changes.frames], ({ id }) => id);
  return {
    ...changes,
    since: null,
    sources: all(source_ids, (id) => sources.get(id)),
    frames: all(frame_ids, (id) => frames.get(id)),
    crossings: source_ids.flatMap((source) => all(frame_ids, (frame) => crossings.get(`${source} ${frame}`))),
  };
}

/** By their keys; the last of several counts. */
const byKey = <K, T>(items: T[], key: (item: T) => K) => new Map(items.map((item) => [key(item), item]));

const all = <T>(ids: number[], find: (id: number) => T | undefined) =>
  ids.map(find).filter((item) => item !== undefined);
