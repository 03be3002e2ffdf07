import type { Edit, FramingSet } from "../../api/client";
import { whole } from "../../fields/Field";
import { valuesOf as frameValues, NEW_FRAME } from "../deliveries/draft";
import { NEW_SOURCE, valuesOf as sourceValues } from "../footage/draft";
import type { Entries, FamilyId, Results } from "./families";

/** A source or a frame that an answer becomes. */
interface Part {
  as: "source" | "frame";
  edit: Edit;
}

/** How an answer frames a conversion: which one is still to be asked. */
export interface Framing {
  as: "framing";
  says: string;
  set: FramingSet;
  /** The sides of the source and of the frame that were asked about. */
  source: [string, string];
  frame: [string, string];
}

/** The source, the frame or the framing of an answer, if it has one. */
export function partOf(
  family: FamilyId,
  entries: Entries,
  result: Results[FamilyId],
): Part | Framing | undefined {
  const of = (key: string) => (entries[key] ?? "").trim();
  const source = (more: object, name: string): Part => ({
    as: "source",
    edit: {
      edit: "add_sources",
      values: [sourceValues({ ...NEW_SOURCE, width: of("w"), height: of("h"), name, ...more })],
    },
  });
  const frame = ([width, height]: readonly (number | string)[], name: string, more: object = {}): Part => ({
    as: "frame",
    edit: {
      edit: "add_frames",
      values: [frameValues({ ...NEW_FRAME, width: String(width), height: String(height), name, ...more })],
    },
  });
  const sides = [of("w"), of("h")];
  switch (family) {
    case "ratio": {
      const { frame: cut } = result as Results["ratio"];
      return frame(cut, `${of("ratio")} out of ${sides.join("x")}`, {
        pixelAspect: of("aspect"),
        step: of("step"),
      });
    }
    case "squeeze":
      return source({ squeeze: of("squeeze") }, `${sides.join("x")} at ${of("squeeze")}x`);
    case "pixels":
      return source({ pixelAspect: of("aspect") }, `${sides.join("x")} with ${of("aspect")} pixels`);
    case "scale":
      return frame([of("tw"), of("th")], `${of("tw")}x${of("th")}`);
    case "push":
      return {
        as: "framing",
        says: `Fill, push in ${of("zoom")}×`,
        set: { method: "fill", zoom: of("zoom") },
        source: [of("w"), of("h")],
        frame: [of("tw"), of("th")],
      };
    case "sphere": {
      const { frame: all } = result as Results["sphere"];
      return frame(all, `Sphere ${all.join("x")}`, { rate: of("rate"), step: of("step") });
    }
    case "view":
      return frame([of("vw"), of("vh")], `View ${of("vw")}x${of("vh")} of ${of("fov")}°`);
    case "decoder":
    case "bits":
      return frame(sides.map(whole), sides.join("x"), { rate: of("rate") });
    case "screen":
      return frame(sides, `${sides.join("x")}${of("ratio") ? ` with ${of("ratio")}` : ""}`, {
        pictureRatio: of("ratio"),
      });
    default:
      return undefined;
  }
}
