import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Orientation, settled } from "../../api/client";
import { failureText, useNotices } from "../../notices/notices";
import type { Levelled } from "./LevelTools";
import { type Line, type Look, type Point, pointTexts, type Size, same } from "./look";

/** Marks along the horizon or along what stands upright, and the turn that they tell. */
export function useMarks(turn: Orientation) {
  const { tell } = useNotices();
  const [horizon, setHorizon] = useState<Point[]>([]);
  const [uprights, setUprights] = useState<Line[]>([]);
  const marks = { turn, horizon: pointTexts(horizon), uprights: uprights.map(pointTexts) };
  const enough = horizon.length > 1 || uprights.length > 0;
  const { data, error } = useQuery({
    queryKey: ["sphere", "level", marks],
    queryFn: ({ signal }) => settled(api.POST("/api/v1/sphere/level", { body: marks as never, signal })),
    enabled: enough,
    retry: false,
    gcTime: 5_000,
  });
  const found: Levelled = { level: enough ? data : undefined, problem: error ? failureText(error) : "" };
  const addHorizon = (at: Point) => {
    setUprights([]);
    setHorizon((now) => [...now, at]);
  };
  const addUpright = (line: Line) => {
    setHorizon([]);
    setUprights((now) => [...now, line]);
  };
  const clear = () => {
    setHorizon([]);
    setUprights([]);
  };
  /** A mark in a view that is shown at some size; it is finer than one in the whole sphere. */
  const inView = async (kind: "horizon" | "uprights", look: Look, size: Size, from: Size, to: Size) => {
    const pointAt = async ([x, y]: Size): Promise<Point> => {
      const body = { look: look.look, fov: look.fov, width: size[0], height: size[1], x, y };
      const { point } = await settled(api.POST("/api/v1/sphere/point", { body }));
      return [point[0] ?? 0, point[1] ?? 0];
    };
    try {
      if (kind === "horizon") addHorizon(await pointAt(to));
      else if (!same(from, to)) addUpright([await pointAt(from), await pointAt(to)]);
    } catch (error) {
      tell(`Not marked: ${failureText(error)}`);
    }
  };
  return { horizon, uprights, found, addHorizon, addUpright, inView, clear };
}
