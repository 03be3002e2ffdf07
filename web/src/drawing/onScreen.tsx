import type { components } from "../api/schema";
import { around, type Box, overlap, placed, placeIn, union } from "./box";
import { PictureIn } from "./picture";

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

/** A picture in a frame: where it lies, in shares of the frame's sides. */
export interface FramePicture {
  href: string;
  image: Box;
}

type LayersProps = ReturnType<typeof onScreen> & { picture?: FramePicture | undefined };

/** A frame on a screen: the player's bars, baked bars, picture, and what passes the screen. */
export function ScreenLayers({ glass, shown, seen, picture: still }: LayersProps) {
  const on = overlap(glass, shown);
  const picture = overlap(glass, seen);
  return (
    <>
      <path className="d-cut" fillRule="evenodd" d={around(shown, on)} />
      <path className="d-player" fillRule="evenodd" d={around(glass, on)} />
      {on && <path className="d-bars" fillRule="evenodd" d={around(on, overlap(on, seen))} />}
      {picture && <rect className="d-picture" {...picture} />}
      {still && (
        <PictureIn
          href={still.href}
          image={{
            x: shown.x + still.image.x * shown.width,
            y: shown.y + still.image.y * shown.height,
            width: still.image.width * shown.width,
            height: still.image.height * shown.height,
          }}
          seen={picture}
        />
      )}
      <rect className="d-area" {...shown} />
      <rect className="d-window" {...glass} />
    </>
  );
}
