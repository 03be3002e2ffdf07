import { useQueries } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { Button, ButtonGroup, Form } from "react-bootstrap";
import { useNavigate } from "react-router";
import type { Conversion, Frame, Source } from "../../api/client";
import { readingsQuery } from "../../api/queries";
import { type Box, overlap } from "../../drawing/box";
import { percent, raster } from "../../drawing/numbers";
import { Key, keysOf } from "../../keys/Key";
import { useCommands } from "../../keys/useCommands";
import { Notice } from "../../notices/Notice";
import { failureText } from "../../notices/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { ScreenHead } from "../../shell/ScreenHead";
import { tip } from "../../tip";
import { useEdit } from "../../writes/useEdit";
import { Card } from "./Card";
import { MODES, type Mode } from "./modes";
import type { Layer } from "./paint";
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
const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

interface Props {
  source: Source;
  frame: Frame;
  conversion: Conversion;
  frameBy: (by: number) => void;
}

/** One conversion carried out in several ways: looked at in the same place, compared, measured, decided. */
export function Proof({ source, frame, conversion, frameBy }: Props) {
  const { project } = useBoard();
  const navigate = useNavigate();
  const edit = useEdit(project.id);
  const [variants, setVariants] = useState<Variant[]>(() => firstVariants(conversion));
  const [chosen, setChosen] = useState(0);
  // -1 is the source.
  const [against, setAgainst] = useState(-1);
  const [mode, setMode] = useState<Mode>("Slider");
  const [split, setSplit] = useState(0.5);
  const [other, setOther] = useState(false);
  const [times, setTimes] = useState<(typeof MAGNIFICATIONS)[number]>(2);
  const [marking, setMarking] = useState(false);
  const [mark, setMark] = useState<Box>();
  const [width = 1, height = 1] = frame.values.geometry.raster;
  const whole = useMemo(() => ({ x: 0, y: 0, width, height }), [width, height]);
  const [put, setMiddle] = useState<{ x: number; y: number }>();
  const [loupe, setLoupe] = useState({ width: 300, height: 120 });

  const base = `/api/v1/projects/${project.id}`;
  const stored = new URLSearchParams({ of: "upright", side: "8192", form: "png", key: source.picture ?? "" });
  // What is planned is part of the address: another plan is another picture.
  const plan = `${conversion.version}-${source.version}-${frame.version}`;
  const hrefs = [
    `${base}/sources/${source.id}/picture?${stored}`,
    ...variants.map((variant) => {
      return `${base}/conversions/${source.id}/${frame.id}/outcome?${queryOf(variant)}#${plan}`;
    }),
  ];
  const [before, ...made] = usePixels(project.id, hrefs);
  const readings = useQueries({
    queries: variants.map((variant) =>
      readingsQuery({ project: project.id, source: source.id, frame: frame.id }, fieldsOf(variant), mark),
    ),
  }).map(({ data }) => data);

  // Where there is something to see, until somebody looks elsewhere.
  const edge = mark ?? markOf(readings[0]?.mark);
  const middle = put ?? (edge ? centreOf(edge) : centreOf(whole));
  const area = frame.shape.picture_area;
  const image = boxOf(conversion);
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
    setMiddle({ x: Math.min(Math.max(x, 0), width), y: Math.min(Math.max(y, 0), height) });
  const drag = (x: number, y: number) => moveTo(middle.x - x / times, middle.y - y / times);
  const larger = (up: boolean) => {
    const at = MAGNIFICATIONS.indexOf(times);
    setTimes(MAGNIFICATIONS[Math.min(Math.max(at + (up ? 1 : -1), 0), MAGNIFICATIONS.length - 1)] ?? 1);
  };
  const take = () => {
    const variant = variants[chosen];
    if (!variant) return;
    void edit({
      edit: "set_resampling",
      conversions: [[source.id, frame.id]],
      taken: { ...variant.how },
    });
  };
  const taken = conversion.choice.taken;
  const isTaken = (variant: Variant | undefined) =>
    Boolean(taken && variant && variant.method === null && sameHow(variant.how, taken));
  useCommands("screen", {
    back: () => void navigate(`/projects/${project.id}/board/${source.id}/${frame.id}`),
    previousFrame: () => frameBy(-1),
    nextFrame: () => frameBy(1),
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
        window={`Proof of ${source.values.name} into ${frame.values.name}`}
        up={{
          to: `/projects/${project.id}/board/${source.id}/${frame.id}`,
          name: `${source.values.name} into ${frame.values.name}`,
        }}
        note={`${raster(frame.values.geometry.raster)}, pixels at ${percent(conversion.plan.scale.x.value)} × ${percent(conversion.plan.scale.y.value)} %`}
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
        <Button onClick={() => frameBy(-1)} aria-label="Previous frame" {...keysOf("previousFrame")}>
          ‹ <Key of="previousFrame" />
        </Button>
        <Button onClick={() => frameBy(1)} aria-label="Next frame" {...keysOf("nextFrame")}>
          <Key of="nextFrame" /> ›
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
              setMark(box);
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
              <Button
                size="sm"
                variant="ink"
                disabled={isTaken(variants[chosen]) || variants[chosen]?.method !== null}
                onClick={take}
                {...keysOf("takeVariant")}
                {...tip(
                  variants[chosen]?.method
                    ? "Another framing is taken in the framing itself; here only how its samples are worked out"
                    : "Outcomes and recipes are worked out like this, and the sheets say so",
                )}
              >
                {isTaken(variants[chosen]) ? "Taken" : "Take it"} <Key of="takeVariant" />
              </Button>
            </div>
          </div>
          <div className="scroll px-3">
            {variants[chosen] && (
              <VariantFields
                letter={LETTERS[chosen] ?? ""}
                variant={variants[chosen]}
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

function boxOf({ plan }: Conversion): Box {
  const { x, y, width, height } = plan.image;
  return { x: x.value, y: y.value, width: width.value, height: height.value };
}

const centreOf = ({ x, y, width, height }: Box) => ({ x: x + width / 2, y: y + height / 2 });

function markOf(mark: number[] | null | undefined): Box | undefined {
  const [x, y, width, height] = mark ?? [];
  return x === undefined || y === undefined || !width || !height ? undefined : { x, y, width, height };
}
