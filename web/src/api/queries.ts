import { keepPreviousData, type QueryClient, queryOptions } from "@tanstack/react-query";
import type { Box } from "../drawing/box";
import { readBoard } from "./board";
import {
  api,
  type Board,
  type Conversion,
  type Crossing,
  type Edit,
  type FrameValues,
  type PreviewRequest,
  type Proof,
  preview,
  type SourceValues,
  type SphereForm,
  settled,
} from "./client";
import type { components } from "./schema";

/**
 * What is read of a project stands under its key, and what is read of one of its conversions under
 * the conversion's: what a change touches is what stands under the key that it changed.
 */
export const projectKey = (project: number) => ["project", project] as const;

const conversionKey = ({ project, source, frame }: ConversionKey) =>
  [...projectKey(project), "conversion", source, frame] as const;

export const projectsQuery = queryOptions({
  queryKey: ["projects"],
  queryFn: ({ signal }) => settled(api.GET("/api/v1/projects", { signal })),
});

/** What serves, and where it keeps things. */
export const aboutQuery = queryOptions({
  queryKey: ["about"],
  queryFn: ({ signal }) => settled(api.GET("/api/v1/about", { signal })),
});

/** All of a project: its sources, its frames and every crossing. */
export const boardQuery = (project: number) =>
  queryOptions({
    queryKey: [...projectKey(project), "board"],
    queryFn: ({ signal }) => readBoard(project, signal),
  });

/** Where the history of a project stands. */
export const headQuery = (project: number) =>
  queryOptions({
    queryKey: [...projectKey(project), "head"],
    queryFn: ({ signal }) =>
      settled(api.GET("/api/v1/projects/{project}/history/head", { signal, params: { path: { project } } })),
    staleTime: 0,
  });

/** How the bin suits a frame. */
export const binQuery = (project: number, frame: number) =>
  queryOptions({
    queryKey: [...projectKey(project), "bin", frame],
    queryFn: ({ signal }) =>
      settled(
        api.GET("/api/v1/projects/{project}/frames/{frame}/bin", {
          signal,
          params: { path: { project, frame } },
        }),
      ),
    staleTime: 0,
  });

/** What every frame shows of a source, and what some frame shows; of all frames or of some. */
export const commonQuery = (project: number, source: number, frames?: number[]) =>
  queryOptions({
    queryKey: [...projectKey(project), "common", source, ...(frames ? [frames] : [])],
    queryFn: ({ signal }) =>
      settled(
        api.GET("/api/v1/projects/{project}/sources/{source}/common", {
          signal,
          params: { path: { project, source }, query: frames ? { frames: frames.join(",") } : {} },
        }),
      ),
    staleTime: 0,
  });

export type HandoffRequest = components["schemas"]["HandoffRequest"];

/** What a hand-off would hold. */
export const handoffPreviewQuery = (project: number, request: HandoffRequest) =>
  queryOptions({
    queryKey: [...projectKey(project), "hand-off", request],
    queryFn: ({ signal }) =>
      settled(
        api.POST("/api/v1/projects/{project}/handoff/preview", {
          signal,
          params: { path: { project } },
          body: request,
        }),
      ),
    staleTime: 0,
  });

/** The links that show the plan of a project. */
export const linksQuery = (project: number) =>
  queryOptions({
    queryKey: [...projectKey(project), "links"],
    queryFn: ({ signal }) =>
      settled(api.GET("/api/v1/projects/{project}/links", { signal, params: { path: { project } } })),
  });

const isGoingOn = (state: string | undefined) => ["waiting", "working", undefined].includes(state);

/** How far a hand-off is; asked again while it is being made. */
export const handoffQuery = (handoff: number) =>
  queryOptions({
    queryKey: ["handoff-state", handoff],
    queryFn: ({ signal }) =>
      settled(api.GET("/api/v1/handoffs/{handoff}", { signal, params: { path: { handoff } } })),
    refetchInterval: (query) => (isGoingOn(query.state.data?.state) ? 200 : false),
    staleTime: 0,
  });

/** What is proved: a conversion, or a source by itself at some share of its own size. */
export type ProvedKey = ConversionKey | AloneKey;

/** The address of the outcome of what is proved. */
export const outcomeOf = (key: ProvedKey): string =>
  "percent" in key
    ? `/api/v1/projects/${key.project}/sources/${key.source}/alone/${key.percent}/outcome`
    : `/api/v1/projects/${key.project}/conversions/${key.source}/${key.frame}/outcome`;

/** What is measured in an outcome; around an edge that somebody marked, or that of a scene. */
export const readingsQuery = (key: ProvedKey, variant: Proof, mark: Box | undefined) =>
  queryOptions({
    queryKey: [...projectKey(key.project), "readings", key, variant, mark],
    queryFn: ({ signal }) => {
      const body = {
        variant,
        mark: mark ? { left: mark.x, top: mark.y, width: mark.width, height: mark.height } : null,
      };
      const asked =
        "percent" in key
          ? api.POST("/api/v1/projects/{project}/sources/{source}/alone/{percent}/readings", {
              signal,
              params: { path: key },
              body,
            })
          : api.POST("/api/v1/projects/{project}/conversions/{source}/{frame}/readings", {
              signal,
              params: { path: key },
              body,
            });
      return settled(asked);
    },
    retry: false,
  });

/** What a source makes by itself. */
export const aloneQuery = (key: AloneKey) =>
  queryOptions({
    queryKey: [...projectKey(key.project), "alone", key.source, key.percent],
    queryFn: ({ signal }) =>
      settled(
        api.GET("/api/v1/projects/{project}/sources/{source}/alone/{percent}", {
          signal,
          params: { path: key },
        }),
      ),
    retry: false,
  });

/** How far the proof of a board is; asked again while it is being made. */
export const proofQuery = (proof: number) =>
  queryOptions({
    queryKey: ["proof-state", proof],
    queryFn: ({ signal }) =>
      settled(api.GET("/api/v1/proofs/{proof}", { signal, params: { path: { proof } } })),
    refetchInterval: (query) => (isGoingOn(query.state.data?.state) ? 200 : false),
    staleTime: 0,
  });

/** What is in a folder of the media folder. */
export const mediaQuery = (folder: string) =>
  queryOptions({
    queryKey: ["media", folder],
    queryFn: ({ signal }) => settled(api.GET("/api/v1/media", { signal, params: { query: { folder } } })),
    staleTime: 0,
  });

/** A question in plain words. */
export const askQuery = (question: string) =>
  queryOptions({
    queryKey: ["ask", question],
    queryFn: ({ signal }) => settled(api.GET("/api/v1/ask", { signal, params: { query: { q: question } } })),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  });

export const libraryQuery = queryOptions({
  queryKey: ["library"],
  queryFn: ({ signal }) => settled(api.GET("/api/v1/library", { signal })),
});

/** What an edit would do. */
export const editPreview = (project: number, edit: Edit) =>
  queryOptions({
    queryKey: [...projectKey(project), "edit", edit],
    queryFn: ({ signal }) =>
      preview(
        api.POST("/api/v1/projects/{project}/edits/preview", {
          signal,
          params: { path: { project } },
          body: edit,
        }),
      ),
    staleTime: 0,
    gcTime: 5_000,
  });

/** A source by itself, in percent of its own size. */
export interface AloneKey {
  project: number;
  source: number;
  percent: number;
}

export interface ConversionKey {
  project: number;
  source: number;
  frame: number;
}

export const conversionQuery = (path: ConversionKey) =>
  queryOptions({
    queryKey: conversionKey(path),
    queryFn: ({ signal }) =>
      settled(
        api.GET("/api/v1/projects/{project}/conversions/{source}/{frame}", { signal, params: { path } }),
      ),
  });

/** What a conversion would be with another framing, a number typed into a dial, another's place. */
export const conversionPreview = (path: ConversionKey, ask: PreviewRequest, version: string) =>
  queryOptions({
    queryKey: [...conversionKey(path), "preview", ask, version],
    queryFn: ({ signal }) =>
      preview(
        api.POST("/api/v1/projects/{project}/conversions/{source}/{frame}/preview", {
          signal,
          params: { path },
          body: ask,
        }),
      ),
    placeholderData: keepPreviousData,
    gcTime: 30_000,
  });

/** What would help against the findings of a conversion. */
export const proposalsQuery = (path: ConversionKey) =>
  queryOptions({
    queryKey: [...conversionKey(path), "proposals"],
    queryFn: ({ signal }) =>
      settled(
        api.GET("/api/v1/projects/{project}/conversions/{source}/{frame}/proposals", {
          signal,
          params: { path },
        }),
      ),
    staleTime: 0,
  });

/** What it costs when a program keeps only so many decimals. */
export const roundingQuery = (path: ConversionKey, decimals: number) =>
  queryOptions({
    queryKey: [...conversionKey(path), "rounding", decimals],
    queryFn: ({ signal }) =>
      settled(
        api.GET("/api/v1/projects/{project}/conversions/{source}/{frame}/rounding/{decimals}", {
          signal,
          params: { path: { ...path, decimals } },
        }),
      ),
    staleTime: 0,
    placeholderData: keepPreviousData,
  });

/** What stands open, by its cause. */
export const pointsQuery = (project: number) =>
  queryOptions({
    queryKey: [...projectKey(project), "points"],
    queryFn: ({ signal }) =>
      settled(api.GET("/api/v1/projects/{project}/points", { signal, params: { path: { project } } })),
    staleTime: 0,
    placeholderData: keepPreviousData,
  });

/** What would help against a point. */
export const remediesQuery = (project: number, key: string) =>
  queryOptions({
    queryKey: [...projectKey(project), "points", key],
    queryFn: ({ signal }) =>
      settled(
        api.GET("/api/v1/projects/{project}/points/remedies", {
          signal,
          params: { path: { project }, query: { key } },
        }),
      ),
    staleTime: 0,
  });

/** The ways through working frames. */
export const waysQuery = (project: number) =>
  queryOptions({
    queryKey: [...projectKey(project), "ways"],
    queryFn: ({ signal }) =>
      settled(api.GET("/api/v1/projects/{project}/ways", { signal, params: { path: { project } } })),
    staleTime: 0,
  });

export const sourcePreview = (values: SourceValues) =>
  queryOptions({
    queryKey: ["source-shape", values],
    queryFn: ({ signal }) => preview(api.POST("/api/v1/shape/source", { signal, body: values })),
    placeholderData: keepPreviousData,
    gcTime: 30_000,
  });

export const framePreview = (values: FrameValues) =>
  queryOptions({
    queryKey: ["frame-shape", values],
    queryFn: ({ signal }) => preview(api.POST("/api/v1/shape/frame", { signal, body: values })),
    placeholderData: keepPreviousData,
    gcTime: 30_000,
  });

/** Which sources are stored otherwise than when they were read. */
export const renewalsQuery = (project: number, sources: SourceValues[]) =>
  queryOptions({
    queryKey: [...projectKey(project), "renewals", sources],
    queryFn: ({ signal }) =>
      settled(
        api.POST("/api/v1/projects/{project}/sources/renewals", {
          signal,
          params: { path: { project } },
          body: sources,
        }),
      ),
    gcTime: 5_000,
  });

/** The sizes of a sphere's frame that decoders take. */
export const sphereLadder = (sphere: SphereForm, rate: string) =>
  queryOptions({
    queryKey: ["sphere-ladder", sphere, rate],
    queryFn: ({ signal }) =>
      settled(api.POST("/api/v1/shape/frame/ladder", { signal, body: { sphere, rate } })),
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 30_000,
  });

/** How the file of a frame is usually made. */
export const usualFiles = (values: FrameValues | undefined) =>
  queryOptions({
    queryKey: ["usual-files", values],
    queryFn: ({ signal }) =>
      settled(api.POST("/api/v1/shape/frame/files", { signal, body: values as FrameValues })),
    placeholderData: keepPreviousData,
    gcTime: 30_000,
  });

/** What files can be made of: it stands in the tables, which only change with the program. */
export const fileChoices = queryOptions({
  queryKey: ["file-choices"],
  queryFn: async ({ signal }) => (await settled(api.GET("/api/v1/tables", { signal }))).files,
  staleTime: Number.POSITIVE_INFINITY,
});

/** Puts a changed conversion where the screens look for it. */
export function keepConversion(client: QueryClient, project: number, conversion: Conversion) {
  client.setQueryData(
    conversionQuery({ project, source: conversion.source, frame: conversion.frame }).queryKey,
    conversion,
  );
  client.setQueryData(boardQuery(project).queryKey, (board: Board | undefined) => {
    if (!board) return board;
    const at = crossingIndex(board, conversion.source, conversion.frame);
    if (at < 0) return board;
    const crossings = board.crossings.slice();
    crossings[at] = conversion.crossing;
    return { ...board, crossings };
  });
  // The board and the conversion are as the answer says; a preview is of the version that it was asked for.
  const key = conversionKey({ project, source: conversion.source, frame: conversion.frame });
  const answered = (asked: readonly unknown[]) =>
    asked[2] === "board" || (key.every((part, at) => asked[at] === part) && asked.length === key.length);
  void client.invalidateQueries({
    queryKey: projectKey(project),
    predicate: ({ queryKey }) => !answered(queryKey) && queryKey[5] !== "preview",
  });
}

/** Where a crossing stands: all frames of the first source, then of the next. */
export function crossingIndex(board: Board, source: number, frame: number): number {
  const row = board.sources.findIndex((each) => each.id === source);
  const column = board.frames.findIndex((each) => each.id === frame);
  return row < 0 || column < 0 ? -1 : row * board.frames.length + column;
}

export function crossingAt(board: Board, row: number, column: number): Crossing | undefined {
  return board.crossings[row * board.frames.length + column];
}

/** Reads a project again, and everything computed from it. */
export function refreshProject(client: QueryClient, project: number) {
  void client.invalidateQueries({ queryKey: projectsQuery.queryKey });
  void client.invalidateQueries({
    queryKey: projectKey(project),
    predicate: ({ queryKey }) => queryKey[2] !== "board",
  });
  return client.invalidateQueries({ queryKey: boardQuery(project).queryKey });
}
