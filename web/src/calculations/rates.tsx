import { CadenceDrawing } from "../drawing/cadence";
import { calculation, text } from "./calculation";
import { known, numberLine, plainLine, shareLine } from "./lines";

const RELATIONS: Record<string, string> = {
  same: "frame for frame",
  drop: "evenly left out",
  repeat: "evenly repeated",
  mixed: "unevenly",
};

export const rates = calculation({
  id: "rates",
  name: "Rates",
  asks: "60 shown at 25: what happens?",
  kind: "cadence",
  fields: [
    { key: "from", label: "shot at", first: "60", unit: "fps", at: ["/from"] },
    { key: "to", label: "shown at", first: "25", unit: "fps", at: ["/to"] },
    {
      key: "intent",
      label: "keep",
      first: "real_time",
      at: ["/intent"],
      options: [
        ["real_time", "the running time"],
        ["every_frame", "every frame"],
      ],
    },
  ],
  request: (of) => ({ from: text(of, "from"), to: text(of, "to"), intent: of.intent }),
  lines: (result) =>
    "relation" in result
      ? known([
          plainLine("frames", RELATIONS[result.relation] ?? result.relation, true),
          result.cycle &&
            plainLine("each source frame appears", `${result.cycle.slice(0, 24).join(" : ")} times`),
          numberLine("rate over rate", result.ratio),
        ])
      : [
          { ...shareLine("speed", result.speed), main: true },
          numberLine("lasts", result.duration, "× as long"),
        ],
  drawing: ({ result, room }) => (
    <CadenceDrawing
      cadence={{
        words: "",
        cycle: "cycle" in result ? (result.cycle ?? null) : [1],
        speed: 1,
        mixed: "relation" in result && result.relation === "mixed",
      }}
      width={room.width - 40}
      height={Math.min(room.height, 220)}
    />
  ),
  entriesFor: ({ from, to, intent }) => ({ from, to, intent }),
});
