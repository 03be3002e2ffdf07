import { useQueries } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { Button, ButtonGroup, Form } from "react-bootstrap";
import { useNavigate } from "react-router";
import { outcomeOf, readingsQuery } from "../../api/queries";
import { type Box, overlap } from "../../drawing/box";
import { percent, raster } from "../../drawing/numbers";
import { Key, keysOf } from "../../keys/Key";
import { useCommands } from "../../keys/useCommands";
import { Notice } from "../../notices/Notice";
import { failureText } from "../../notices/notices";
import { useMay } from "../../people/may";
import { useBoard } from "../../shell/ProjectLayout";
import { ScreenHead } from "../../shell/ScreenHead";
import { tip } from "../../tip";
import { Card } from "./Card";
import { MODES, type Mode } from "./modes";
import type { Layer } from "./paint";
import type { Proved } from "./proved";
import { ReadingsTable, ResponseChart } from "./Readings";
import { usePixels } from "./usePixels";
import { VariantFields } from "./VariantFields";
import {
  fieldsOf,
  firstVariants,
  LETTERS,
  MOST_VARIANTS,
  queryOf,
  sameHow,
  type Variant,
  wordsOf,
} from "./variants";
import { Whole } from "./Whole";

const MAGNIFICATIONS = [1, 2, 4, 8] as const;
const STEP_NAMES = {
  previousFrame: "Previous frame",
  nextFrame: "Next frame",
  previousSource: "Previous source",
  nextSource: "Next source",
};
const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** One conversion, or one source, carried out in several ways: looked at in the same place, compared, measured, decided. */
export function Proof({ proved }: { proved: Proved }) {
  const plans = useMay("plan");
  const { source, taken } = proved;
  const [back, on] = proved.steps;
  const { project } = useBoard();
  const navigate = useNavigate();
  const [variants, setVariants] = useState<Variant[]>(() => firstVariants(proved));
  const [chosen, setChosen] = useState(0);
  // -1 is the source.
  const [against, setAgainst] = useState(-1);
  const [mode, setMode] = useState<Mode>("Slider");
  const [split, setSplit] = useState(0.5);
  const [other, setOther] = useState(false);
  const [times, setTimes] = useState<(typeof MAGNIFICATIONS)[number]>(2);
  const [marking, setMarking] = useState(false);
  const [width = 1, height = 1] = proved.raster;
  const whole = useMemo(() => ({ x: 0, y: 0, width, height }), [width, height]);
  // Shares of the whole: another size of the same source is looked at in the same place.
  const [put, setMiddle] = useState<{ x: number; y: number }>();
  const [marked, setMark] = useState<Box>();
  const mark = marked && {
    x: Math.round(marked.x * width),
    y: Math.round(marked.y * height),
    width: Math.round(marked.width * width),
    height: Math.round(marked.height * height),
  };
  const [loupe, setLoupe] = useState({ width: 300, height: 120 });

  const stored = new URLSearchParams({ of: "upright", side: "8192", form: "png", key: source.picture ?? "" });
  const hrefs = [
    `/api/v1/projects/${project.id}/sources/${source.id}/picture?${stored}`,
    // What is planned is part of the address: another plan is another picture.
    ...variants.map((variant) => `${outcomeOf(proved.key)}?${queryOf(variant)}#${proved.planned}`),
  ];
  const [before, ...made] = usePixels(project.id, hrefs);
  const readings = useQueries({
    queries: variants.map((variant) => readingsQuery(proved.key, fieldsOf(variant), mark)),
  }).map(({ data }) => data);

  // Where there is something to see, until somebody looks elsewhere.
  const edge = mark ?? markOf(readings[0]?.mark);
  const middle = put ? { x: put.x * width, y: put.y * height } : centreOf(edge ?? whole);
  const { area, image } = proved;
  const layerOf = (at: number): Layer | undefined => {
    const pixels = at < 0 ? before : made[at];
    if (!pixels?.bitmap) return undefined;
    return at < 0
      ? { bitmap: pixels.bitmap, at: image, seen: overlap(image, area) ?? { ...area, width: 0 } }
      : { bitmap: pixels.bitmap, at: whole, seen: whole };
  };
  const failed = [before, ...made].find((pixels) => pixels?.error)?.error;
  const nameOf = (at: number) => (at < 0 ? "Source" : (LETTERS[at] ?? ""));

  /** The part of the frame that a loupe of some size shows. */
  const partOf = (room: { width: number; height: number }): Box => ({
    x: middle.x - room.width / times / 2,
    y: middle.y - room.height / times / 2,
    width: room.width / times,
    height: room.height / times,
  });
  const moveTo = (x: number, y: number) =>
    setMiddle({ x: Math.min(Math.max(x / width, 0), 1), y: Math.min(Math.max(y / height, 0), 1) });
  const drag = (x: number, y: number) => moveTo(middle.x - x / times, middle.y - y / times);
  const larger = (up: boolean) => {
    const at = MAGNIFICATIONS.indexOf(times);
    setTimes(MAGNIFICATIONS[Math.min(Math.max(at + (up ? 1 : -1), 0), MAGNIFICATIONS.length - 1)] ?? 1);
  };
  const take = () => {
    const variant = variants[chosen];
    if (variant && proved.taking.button) proved.take(variant.how);
  };
  const isTaken = (variant: Variant | undefined) =>
    Boolean(taken && variant && variant.method === null && sameHow(variant.how, taken));
  useCommands("screen", {
    back: () => void navigate(proved.up.to),
    [back]: () => proved.step(-1),
    [on]: () => proved.step(1),
  });
  useCommands("drawing", {
    loupe: (key) => {
      const [x, y] = STEPS[key] ?? [0, 0];
      moveTo(middle.x + (x * loupe.width) / times / 4, middle.y + (y * loupe.height) / times / 4);
    },
    loupeLarger: () => larger(true),
    loupeSmaller: () => larger(false),
    compareVariants: () => {
      setMode("Switch");
      setOther(!other);
    },
    variant: (key) => setChosen(Math.min(Number(key) - 1, variants.length - 1)),
    takeVariant: take,
  });

  return (
    <main className="page" id="main">
      <ScreenHead
        title="Proof"
        window={`Proof of ${proved.name}`}
        up={proved.up}
        note={`${raster(proved.raster)}, pixels at ${percent(proved.scale.x.value)} × ${percent(proved.scale.y.value)} %`}
      >
        <ButtonGroup aria-label="How to compare">
          {MODES.map((each) => (
            <Button
              key={each}
              active={mode === each}
              aria-pressed={mode === each}
              onClick={() => setMode(each)}
            >
              {each}
            </Button>
          ))}
        </ButtonGroup>
        <Form.Select
          size="sm"
          className="against"
          aria-label="Compare with"
          value={against}
          onChange={({ target }) => setAgainst(Number(target.value))}
        >
          <option value={-1}>against the source</option>
          {variants.map((variant, at) => (
            <option key={LETTERS[at]} value={at}>
              against {LETTERS[at]} {wordsOf(variant)}
            </option>
          ))}
        </Form.Select>
        {proved.tools}
        <Button onClick={() => proved.step(-1)} aria-label={STEP_NAMES[back]} {...keysOf(back)}>
          ‹ <Key of={back} />
        </Button>
        <Button onClick={() => proved.step(1)} aria-label={STEP_NAMES[on]} {...keysOf(on)}>
          <Key of={on} /> ›
        </Button>
      </ScreenHead>
      {failed && <Notice role="alert">{failureText(failed)}</Notice>}
      <div className="proof">
        <section className="sheet" aria-label="The whole frame">
          <div className="sheet-head">
            <h2>
              {nameOf(against)} {mode === "Difference" ? "less" : "and"} {nameOf(chosen)}
            </h2>
            <small>
              {mode === "Difference"
                ? "what differs, four times as strong"
                : mode === "Switch"
                  ? `${nameOf(other ? against : chosen)} is shown`
                  : `${nameOf(against)} left, ${nameOf(chosen)} right`}
            </small>
            <div className="end">
              {mode === "Switch" && (
                <Button size="sm" {...keysOf("compareVariants")} onClick={() => setOther(!other)}>
                  Switch <Key of="compareVariants" />
                </Button>
              )}
              <Button
                size="sm"
                active={marking}
                aria-pressed={marking}
                onClick={() => setMarking(!marking)}
                {...tip("Draw a box around an edge in the frame: it is measured in every variant")}
              >
                Mark an edge
              </Button>
              {mark && (
                <Button size="sm" onClick={() => setMark(undefined)}>
                  Remove mark
                </Button>
              )}
            </div>
          </div>
          <Whole
            frame={whole}
            mode={mode}
            layers={[layerOf(against), layerOf(chosen)]}
            other={other}
            split={split}
            onSplit={setSplit}
            loupe={partOf(loupe)}
            onMiddle={moveTo}
            mark={mark ?? markOf(readings[chosen]?.mark)}
            marking={marking}
            onMark={(box) => {
              setMark({
                x: box.x / width,
                y: box.y / height,
                width: box.width / width,
                height: box.height / height,
              });
              setMarking(false);
            }}
          />
        </section>
        <section className="sheet" aria-label="Variant and readings">
          <div className="sheet-head">
            <h2 className={`v-${LETTERS[chosen]}`}>
              {LETTERS[chosen]} {variants[chosen] && wordsOf(variants[chosen])}
            </h2>
            <div className="end">
              {plans && proved.taking.button && (
                <Button
                  size="sm"
                  variant="ink"
                  disabled={isTaken(variants[chosen]) || variants[chosen]?.method !== null}
                  onClick={take}
                  {...keysOf("takeVariant")}
                  {...tip(
                    variants[chosen]?.method
                      ? "Another framing is taken in the framing itself; here only how its samples are worked out"
                      : proved.taking.tip,
                  )}
                >
                  {isTaken(variants[chosen]) ? "Taken" : proved.taking.button} <Key of="takeVariant" />
                </Button>
              )}
            </div>
          </div>
          <div className="scroll px-3">
            {variants[chosen] && (
              <VariantFields
                letter={LETTERS[chosen] ?? ""}
                variant={variants[chosen]}
                framed={proved.framed}
                onChange={(variant) =>
                  setVariants(variants.map((each, at) => (at === chosen ? variant : each)))
                }
              />
            )}
            <div className="measured">
              <ReadingsTable readings={readings} chosen={chosen} />
              <ResponseChart readings={readings} />
            </div>
            {readings[chosen]?.no_edge && (
              <p className="quiet small mb-1" role="status">
                No edge measured: {readings[chosen]?.no_edge}.
              </p>
            )}
          </div>
        </section>
        <div className="proof-strip">
          <div className="strip-head">
            <b>Same place, pixel by pixel</b>
            <span className="quiet">drag any of them, all follow</span>
            <ButtonGroup size="sm" aria-label="Magnification">
              {MAGNIFICATIONS.map((each) => (
                <Button
                  key={each}
                  active={each === times}
                  aria-pressed={each === times}
                  onClick={() => setTimes(each)}
                >
                  {each}:1
                </Button>
              ))}
            </ButtonGroup>
            {variants.length < MOST_VARIANTS && (
              <Button
                size="sm"
                onClick={() => {
                  const last = variants[chosen] ?? variants[0];
                  if (last) setVariants([...variants, { ...last }]);
                  setChosen(variants.length);
                }}
              >
                Add a variant
              </Button>
            )}
          </div>
        </div>
        <div className="proof-cards">
          <Card
            title="Source"
            note={`as stored, ${raster(source.values.geometry.raster)}`}
            layer={layerOf(-1)}
            partOf={partOf}
            onDrag={drag}
            onWheel={larger}
            onRoom={setLoupe}
          />
          {variants.map((variant, at) => (
            <Card
              key={LETTERS[at]}
              letter={LETTERS[at]}
              title={wordsOf(variant)}
              note={isTaken(variant) ? "taken" : undefined}
              chosen={at === chosen}
              onChoose={() => setChosen(at)}
              onRemove={
                variants.length > 1
                  ? () => {
                      setVariants(variants.filter((_, place) => place !== at));
                      setChosen(Math.max(0, chosen - (at <= chosen ? 1 : 0)));
                      setAgainst(-1);
                    }
                  : undefined
              }
              layer={layerOf(at)}
              partOf={partOf}
              onDrag={drag}
              onWheel={larger}
            />
          ))}
        </div>
      </div>
    </main>
  );
}

const centreOf = ({ x, y, width, height }: Box) => ({ x: x + width / 2, y: y + height / 2 });

function markOf(mark: number[] | null | undefined): Box | undefined {
  const [x, y, width, height] = mark ?? [];
  return x === undefined || y === undefined || !width || !height ? undefined : { x, y, width, height };
}
