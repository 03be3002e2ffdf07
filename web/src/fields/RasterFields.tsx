import type { FocusEvent } from "react";
import { type Problem, wrongAt } from "../api/client";
import { Field } from "./Field";
import { type Sides, sidesIn } from "./sides";

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
  const keep = () => {
    const sides = sidesIn(draft);
    if (sides.width !== draft.width || sides.height !== draft.height) edit(sides);
    commit?.();
  };
  const left = (event: FocusEvent<HTMLFieldSetElement>) => {
    if (!event.currentTarget.contains(event.relatedTarget)) keep();
  };
  const side = (name: keyof Sides, ...pointers: string[]) => (
    <Field
      label={`${of} ${name}`.trim()}
      unit="px"
      numeric
      value={draft[name]}
      wrong={wrongAt(problem, ...pointers)}
      onText={(text) => edit({ [name]: text })}
      onEnter={keep}
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
