import { keepPreviousData, type QueryClient, queryOptions } from "@tanstack/react-query";
import {
  api,
  type Board,
  type Conversion,
  type Crossing,
  type Edit,
  type FrameValues,
  type PreviewRequest,
  preview,
  type SourceValues,
  settled,
} from "./client";
import type { components } from "./schema";

export const projectsQuery = queryOptions({
  queryKey: ["projects"],
  queryFn: () => settled(api.GET("/api/v1/projects")),
});

/** What serves, and where it keeps things. */
export const aboutQuery = queryOptions({
  queryKey: ["about"],
  queryFn: () => settled(api.GET("/api/v1/about")),
});

/** All of a project: its sources, its frames and every crossing. */
export const boardQuery = (project: number) =>
  queryOptions({
    queryKey: ["board", project],
    queryFn: () => settled(api.GET("/api/v1/projects/{project}/board", { params: { path: { project } } })),
  });

/** Where the history of a project stands. */
export const headQuery = (project: number) =>
  queryOptions({
    queryKey: ["head", project],
    queryFn: () =>
      settled(api.GET("/api/v1/projects/{project}/history/head", { params: { path: { project } } })),
    staleTime: 0,
  });

/** How the bin suits a frame. */
export const binQuery = (project: number, frame: number) =>
  queryOptions({
    queryKey: ["bin", project, frame],
    queryFn: () =>
      settled(
        api.GET("/api/v1/projects/{project}/frames/{frame}/bin", { params: { path: { project, frame } } }),
      ),
    staleTime: 0,
  });

/** What every frame shows of a source, and what some frame shows; of all frames or of some. */
export const commonQuery = (project: number, source: number, frames?: number[]) =>
  queryOptions({
    queryKey: ["common", project, source, ...(frames ? [frames] : [])],
    queryFn: () =>
      settled(
        api.GET("/api/v1/projects/{project}/sources/{source}/common", {
          params: { path: { project, source }, query: { frames: frames?.join(",") } },
        }),
      ),
    staleTime: 0,
  });

export type HandoffRequest = components["schemas"]["HandoffRequest"];

/** What a hand-off would hold. */
export const handoffPreviewQuery = (project: number, request: HandoffRequest) =>
  queryOptions({
    queryKey: ["handoff", project, request],
    queryFn: () =>
      settled(
        api.POST("/api/v1/projects/{project}/handoff/preview", {
          params: { path: { project } },
          body: request,
        }),
      ),
    staleTime: 0,
  });

/** How far a hand-off is; asked again while it is being made. */
export const handoffQuery = (handoff: number) =>
  queryOptions({
    queryKey: ["handoff-state", handoff],
    queryFn: () => settled(api.GET("/api/v1/handoffs/{handoff}", { params: { path: { handoff } } })),
    refetchInterval: (query) => (query.state.data?.state === "working" || !query.state.data ? 200 : false),
    staleTime: 0,
  });

/** What is in a folder of the media folder. */
export const mediaQuery = (folder: string) =>
  queryOptions({
    queryKey: ["media", folder],
    queryFn: () => settled(api.GET("/api/v1/media", { params: { query: { folder } } })),
    staleTime: 0,
  });

/** A question in plain words. */
export const askQuery = (question: string) =>
  queryOptions({
    queryKey: ["ask", question],
    queryFn: () => settled(api.GET("/api/v1/ask", { params: { query: { q: question } } })),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  });

export const libraryQuery = queryOptions({
  queryKey: ["library"],
  queryFn: () => settled(api.GET("/api/v1/library")),
});

/** What an edit would do. */
export const editPreview = (project: number, edit: Edit) =>
  queryOptions({
    queryKey: ["edit-preview", project, edit],
    queryFn: () =>
      preview(
        api.POST("/api/v1/projects/{project}/edits/preview", { params: { path: { project } }, body: edit }),
      ),
    staleTime: 0,
    gcTime: 5_000,
  });

export interface ConversionKey {
  project: number;
  source: number;
  frame: number;
}

export const conversionQuery = (path: ConversionKey) =>
  queryOptions({
    queryKey: ["conversion", path.project, path.source, path.frame],
    queryFn: () =>
      settled(api.GET("/api/v1/projects/{project}/conversions/{source}/{frame}", { params: { path } })),
  });

/** What a conversion would be with another framing, a number typed into a dial, another's place. */
export const conversionPreview = (path: ConversionKey, ask: PreviewRequest, version: string) =>
  queryOptions({
    queryKey: ["conversion-preview", path, ask, version],
    queryFn: () =>
      preview(
        api.POST("/api/v1/projects/{project}/conversions/{source}/{frame}/preview", {
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
    queryKey: ["conversion", path.project, path.source, path.frame, "proposals"],
    queryFn: () =>
      settled(
        api.GET("/api/v1/projects/{project}/conversions/{source}/{frame}/proposals", { params: { path } }),
      ),
    staleTime: 0,
  });

/** What it costs when a program keeps only so many decimals. */
export const roundingQuery = (path: ConversionKey, decimals: number) =>
  queryOptions({
    queryKey: ["conversion", path.project, path.source, path.frame, "rounding", decimals],
    queryFn: () =>
      settled(
        api.GET("/api/v1/projects/{project}/conversions/{source}/{frame}/rounding/{decimals}", {
          params: { path: { ...path, decimals } },
        }),
      ),
    staleTime: 0,
    placeholderData: keepPreviousData,
  });

/** The ways through working frames. */
export const waysQuery = (project: number) =>
  queryOptions({
    queryKey: ["ways", project],
    queryFn: () => settled(api.GET("/api/v1/projects/{project}/ways", { params: { path: { project } } })),
    staleTime: 0,
  });

export const sourcePreview = (values: SourceValues) =>
  queryOptions({
    queryKey: ["source-shape", values],
    queryFn: () => preview(api.POST("/api/v1/shape/source", { body: values })),
    placeholderData: keepPreviousData,
    gcTime: 30_000,
  });

export const framePreview = (values: FrameValues) =>
  queryOptions({
    queryKey: ["frame-shape", values],
    queryFn: () => preview(api.POST("/api/v1/shape/frame", { body: values })),
    placeholderData: keepPreviousData,
    gcTime: 30_000,
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
  client.invalidateQueries({ queryKey: headQuery(project).queryKey });
  client.invalidateQueries({ queryKey: commonQuery(project, conversion.source).queryKey });
  const path = { project, source: conversion.source, frame: conversion.frame };
  client.invalidateQueries({ queryKey: proposalsQuery(path).queryKey });
  client.invalidateQueries({ queryKey: roundingQuery(path, 0).queryKey.slice(0, -1) });
  client.invalidateQueries({ queryKey: ["ways", project] });
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
  client.invalidateQueries({ queryKey: ["conversion", project] });
  client.invalidateQueries({ queryKey: ["conversion-preview"] });
  client.invalidateQueries({ queryKey: ["projects"] });
  client.invalidateQueries({ queryKey: headQuery(project).queryKey });
  client.invalidateQueries({ queryKey: ["history", project] });
  client.invalidateQueries({ queryKey: ["bin", project] });
  client.invalidateQueries({ queryKey: ["common", project] });
  client.invalidateQueries({ queryKey: ["ways", project] });
  return client.invalidateQueries({ queryKey: boardQuery(project).queryKey });
}
