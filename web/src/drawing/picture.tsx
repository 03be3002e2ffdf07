import { useEffect, useSyncExternalStore } from "react";
import { useParams } from "react-router";
import type { Source } from "../api/client";
import { here, keep, kept } from "../kept";
import type { Box } from "./box";

const SHOWN = "ratiomet.pictures";
const isFlag = (value: unknown): value is boolean => typeof value === "boolean";

let shown = kept(here, SHOWN, true, isFlag);
const listeners = new Set<() => void>();

const listen = (listener: () => void) => {
  listeners.add(listener);
  return () => {
    listeners.delete(listener);
  };
};

/** Switches between pictures and drawings, on every screen. */
export function togglePictures() {
  shown = !shown;
  keep(here, SHOWN, shown);
  for (const listener of listeners) listener();
}

/** Whether drawings show pictures. */
export const usePictures = () => useSyncExternalStore(listen, () => shown);

const coming = new Set<string>();
const arrived = new Set<string>();
const waiting = new Set<() => void>();
let told: ReturnType<typeof setTimeout> | undefined;

/** Tells of them a few times a second, however many arrive. */
function tellComing() {
  if (told) return;
  told = setTimeout(() => {
    told = undefined;
    for (const listener of waiting) listener();
  }, 250);
}

const wait = (listener: () => void) => {
  waiting.add(listener);
  return () => {
    waiting.delete(listener);
  };
};

/** How many pictures that are to be seen are still being made. */
export const usePicturesComing = () => useSyncExternalStore(wait, () => coming.size);

function arrive(href: string) {
  arrived.add(href);
  if (coming.delete(href)) tellComing();
}

/** Few sizes, so that a browser keeps what it has: the longer side in pixels. */
type Side = 320 | 1280 | 4096;

/** Where the picture of a source is, if it has one and pictures are shown. */
export function usePicture(
  source: Pick<Source, "id" | "picture"> | undefined,
  side: Side,
  of: "upright" | "stored" = "upright",
): string | undefined {
  const pictures = usePictures();
  const { project } = useParams();
  if (!pictures || !source?.picture) return undefined;
  const query = new URLSearchParams({ of, side: String(side), key: source.picture });
  return `/api/v1/projects/${project}/sources/${source.id}/picture?${query}`;
}

interface Props {
  href: string | undefined;
  /** Where the whole of it lies. */
  image: Box;
  /** The part of the drawing through which it is seen. */
  seen: Box | undefined;
  /** Faint, where it is cut off. */
  faint?: boolean | undefined;
  /** Pixels as pixels. */
  sharp?: boolean | undefined;
}

/** A picture in a drawing, as the plan places it. */
export function PictureIn({ href, image, seen, faint, sharp }: Props) {
  useEffect(() => {
    if (!href || arrived.has(href)) return;
    coming.add(href);
    tellComing();
    return () => {
      if (coming.delete(href)) tellComing();
    };
  }, [href]);
  if (!href || !seen) return null;
  return (
    <svg x={seen.x} y={seen.y} width={seen.width} height={seen.height} aria-hidden="true">
      <image
        className={faint ? "d-still faint" : "d-still"}
        href={href}
        x={image.x - seen.x}
        y={image.y - seen.y}
        width={image.width}
        height={image.height}
        preserveAspectRatio="none"
        onLoad={() => arrive(href)}
        onError={() => arrive(href)}
        imageRendering={sharp ? "pixelated" : undefined}
      />
    </svg>
  );
}
