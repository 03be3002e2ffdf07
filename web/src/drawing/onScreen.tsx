import type { components } from "../api/schema";
import { around, type Box, overlap, placed, placeIn, union } from "./box";

export type Viewing = components["schemas"]["ViewingResult"];

/** Where a screen, a frame on it and its picture stand in a room. */
export function onScreen(screen: Box, viewing: Viewing, into: Box) {
  const boxOf = (rect: Viewing["frame"]): Box => ({
    x: rect.x.value,
    y: rect.y.value,
    width: rect.width.value,
    height: rect.height.value,
  });
  const [frame, picture] = [boxOf(viewing.frame), boxOf(viewing.picture)];
  const place = placeIn(union(screen, frame), into);
  return { glass: placed(screen, place), shown: placed(frame, place), seen: placed(picture, place) };
}

/** A frame on a screen: the player's bars, baked bars, picture, and what passes the screen. */
export function ScreenLayers({ glass, shown, seen }: ReturnType<typeof onScreen>) {
  const on = overlap(glass, shown);
  const picture = overlap(glass, seen);
  return (
    <>
      <path className="d-cut" fillRule="evenodd" d={around(shown, on)} />
      <path className="d-player" fillRule="evenodd" d={around(glass, on)} />
      {on && <path className="d-bars" fillRule="evenodd" d={around(on, overlap(on, seen))} />}
      {picture && <rect className="d-picture" {...picture} />}
      <rect className="d-area" {...shown} />
      <rect className="d-window" {...glass} />
    </>
  );
}
