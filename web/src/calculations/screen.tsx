import type { Exact } from "../api/client";
import { short, typed } from "../drawing/numbers";
import { onScreen, ScreenLayers } from "../drawing/onScreen";
import { asFrame, box, calculation, optional, pair, sides, sidesOf, sizeFields, text } from "./calculation";
import { Measured } from "./drawn";
import { known, type Line, pairLine, plainLine, shareLine } from "./lines";

function bars(name: string, edges: Record<"left" | "top" | "right" | "bottom", Exact>): Line {
  const sides = [edges.left, edges.top, edges.right, edges.bottom];
  const drawn = sides.filter(({ value }) => value > 0).length;
  return {
    name,
    shown: drawn === 0 ? "none" : sides.map(({ value }) => short(value, 1)).join(", "),
    copies: sides.map(({ value }) => typed(value, 2)).join(", "),
    exact: drawn === 0 ? undefined : "left, top, right, bottom",
  };
}

export const screen = calculation({
  id: "screen",
  name: "On a screen",
  asks: "2.00 in HD on a phone?",
  kind: "viewing",
  fields: [
    ...sizeFields("w", "h", "frame", ["1920", "1080"], "/delivery/raster"),
    {
      key: "ratio",
      label: "visible ratio",
      first: "2.00",
      unit: ": 1",
      at: ["/delivery/picture_ratio"],
      empty: "whole picture",
    },
    ...sizeFields("sw", "sh", "screen", ["2340", "1080"], "/screen"),
    {
      key: "show",
      label: "player",
      first: "fit",
      at: ["/show"],
      options: [
        ["fit", "shows all"],
        ["fill", "fills the screen"],
      ],
    },
  ],
  request: (of) => ({
    delivery: { raster: pair(of, "w", "h"), picture_ratio: optional(of, "ratio") },
    screen: pair(of, "sw", "sh"),
    show: of.show,
  }),
  lines: ({ picture_share, cut, player_bars, baked_bars, double_boxed, frame: shown }) =>
    known([
      { ...shareLine("of the screen shows picture", picture_share), main: true },
      bars("the player's bars", player_bars),
      bars("baked bars on the screen", baked_bars),
      cut.value > 0 && shareLine("of the picture is lost", cut),
      pairLine("frame on the screen", [shown.width, shown.height], 1),
      plainLine("bars on all four sides", double_boxed ? "yes: bars on both axes" : "no"),
    ]),
  drawing: ({ entries, result, into }) => {
    const screen = box(entries, "sw", "sh");
    const boxes = onScreen(screen, result, into);
    const { glass } = boxes;
    return (
      <>
        <ScreenLayers {...boxes} />
        <Measured box={glass} width={String(screen.width)} height={String(screen.height)} />
        <text className="words" x={glass.x} y={glass.y + glass.height + 22} fontSize="12">
          blue: the screen; grey: bars of the player; black: bars in the frame
        </text>
      </>
    );
  },
  part: (of) =>
    asFrame(sides(of), `${sides(of).join("x")}${text(of, "ratio") ? ` with ${text(of, "ratio")}` : ""}`, {
      pictureRatio: text(of, "ratio"),
    }),
  entriesFor: ({ delivery, screen }) => {
    const { raster, picture_ratio } = (delivery ?? {}) as Record<string, unknown>;
    return { ...sidesOf(raster), ratio: picture_ratio ?? "", ...sidesOf(screen, "sw", "sh") };
  },
});
