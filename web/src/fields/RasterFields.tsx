import type { FocusEvent } from "react";
import { type Problem, wrongAt } from "../api/client";
import { Field } from "./Field";

interface Sides {
  width: string;
  height: string;
}

/** A size in one field, as it is said: "1920x1080". */
const BOTH = /^\s*(\d{1,6})\s*[x×*]\s*(\d{1,6})\s*$/i;

/** What a text in one of the two fields sets: its own side, or both when it names both. */
export function sidesIn(side: keyof Sides, text: string): Partial<Sides> {
  const [, width, height] = BOTH.exec(text) ?? [];
  return width && height ? { width, height } : { [side]: text };
}

interface Props {
  draft: Sides;
  /** What is measured, before width and height. */
  of?: string | undefined;
  problem?: Problem | undefined;
  edit: (part: Partial<Sides>) => void;
  commit?: (() => void) | undefined;
  drop?: (() => void) | undefined;
}

/** Width and height of a raster. Either takes both; they are kept together when both are left, as one change. */
export function RasterFields({ draft, of = "", problem, edit, commit, drop }: Props) {
  const left = (event: FocusEvent<HTMLFieldSetElement>) => {
    if (!event.currentTarget.contains(event.relatedTarget)) commit?.();
  };
  const side = (name: keyof Sides, ...pointers: string[]) => (
    <Field
      label={`${of} ${name}`.trim()}
      unit="px"
      numeric
      value={draft[name]}
      wrong={wrongAt(problem, ...pointers)}
      onText={(text) => edit(sidesIn(name, text))}
      onEnter={commit}
      onEscape={drop}
    />
  );
  return (
    <fieldset className="raster-fields" onBlur={left}>
      {side("width", "/geometry/raster/0", "/geometry/raster")}
      {side("height", "/geometry/raster/1")}
    </fieldset>
  );
}
