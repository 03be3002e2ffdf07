import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, type Orientation, type Source, settled } from "../../api/client";
import { projectKey } from "../../api/queries";
import type { Look, Size } from "./look";
import { useFollowing } from "./useLatest";
import type { Standing } from "./useOnSphere";

interface InHand {
  turn: Orientation;
  look: Look;
  /** Whether a source keeps the look: it stays at what it shows while the sphere is turned. */
  kept: boolean;
  /** A picture on the sphere that is moved. */
  moved: Standing | undefined;
}

/** What is shown of a sphere while hands are on it: all of it unrolled, a view out of it, and where everything is. */
export function useShown(project: number, source: Source, { turn, look, kept, moved }: InHand) {
  const span = source.values.sphere.span.map(Number) as [number, number];
  const picture = (show: string, [width, height]: Size, side: number) => {
    const part = Math.min(1, side / Math.max(width, height));
    const pixels = (length: number) => String(Math.max(32, Math.round(length * part)));
    const { yaw, pitch, roll } = turn;
    const query = new URLSearchParams({
      show,
      width: pixels(width),
      height: pixels(height),
      yaw: String(yaw),
      pitch: String(pitch),
      roll: String(roll),
      ...(show === "view" && {
        look_yaw: String(look.look.yaw),
        look_pitch: String(look.look.pitch),
        look_roll: String(look.look.roll),
        fov: look.fov,
        kept: String(kept),
      }),
      ...(moved && {
        moved: String(moved.picture),
        moved_yaw: String(moved.orientation.yaw),
        moved_pitch: String(moved.orientation.pitch),
        moved_roll: String(moved.orientation.roll),
        moved_width: moved.width,
      }),
    });
    // The still itself may change, and what stands on it.
    return `/api/v1/projects/${project}/sources/${source.id}/sphere?${query}#${source.picture}`;
  };
  const unrolled = useFollowing(picture("unrolled", [span[0] * 10, span[1] * 10], 960));
  const view = useFollowing(picture("view", look.raster, 720));

  const asked = { raster: look.raster, look: look.look, fov: look.fov, turn, kept, moved: moved ?? null };
  const { data: seen } = useQuery({
    queryKey: [...projectKey(project), "sphere", source.id, source.version, asked],
    queryFn: ({ signal }) =>
      settled(
        api.POST("/api/v1/projects/{project}/sources/{source}/sphere/look", {
          params: { path: { project, source: source.id } },
          body: asked,
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    gcTime: 5_000,
    retry: false,
  });
  return { span, unrolled, view, seen };
}
