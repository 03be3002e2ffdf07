import { useQuery } from "@tanstack/react-query";
import { sphereLadder } from "../../api/queries";
import { Choice } from "../../fields/Field";
import type { FrameDraft } from "../../fields/frameDraft";
import { formOf } from "../../fields/sphereForm";

interface Props {
  draft: FrameDraft;
  onChoose: (sides: { width: string; height: string }) => void;
}

const said = ({ h264, h265 }: { h264?: string | null | undefined; h265?: string | null | undefined }) =>
  [h264 && `H.264 ${h264}`, h265 && `H.265 ${h265}`].filter(Boolean).join(", ");

/** The largest spheres that decoders take, level by level, at the rate of the frame. */
export function SphereSizes({ draft, onChoose }: Props) {
  const { data: ladder } = useQuery(sphereLadder(formOf(draft.form), draft.rate.trim() || "30"));
  if (!ladder) return null;
  const now = `${draft.width}x${draft.height}`;
  const sizes = ladder.map(({ raster, levels }) => {
    const size = raster.join("x");
    return [size, `${size}: ${said(levels)}`] as const;
  });
  const own = sizes.some(([size]) => size === now) ? [] : [[now, "own size"] as const];
  return (
    <Choice
      label={draft.rate.trim() ? "largest for decoders" : "largest for decoders at 30 fps"}
      value={now}
      options={[...own, ...sizes]}
      onChoose={(size) => {
        const [width = "", height = ""] = size.split("x");
        onChoose({ width, height });
      }}
    />
  );
}
