import { useState } from "react";
import { Button, ButtonGroup, Form } from "react-bootstrap";
import { type Frame, type Source, wrongAt } from "../../api/client";
import { short } from "../../drawing/numbers";
import { Field } from "../../fields/Field";
import { Key, keysOf } from "../../keys/Key";
import { useCommands } from "../../keys/useCommands";
import { Notice } from "../../notices/Notice";
import { For } from "../../people/may";
import { tip } from "../../tip";
import { FrameDrawing } from "./FrameDrawing";
import { restingAt, shownNumber } from "./slide";
import type { Framing } from "./useFraming";
import { CORNERS, type Corner, MAGNIFICATIONS, type useView } from "./useView";

interface Props {
  source: Source;
  frame: Frame;
  framing: Framing;
  looks: ReturnType<typeof useView>;
}

/** The frame, and the picture in it under the hand. */
export function FramePanel({ source, frame, framing, looks }: Props) {
  const { shown, move, image, problem, away, handles, edit, commit, drop, typed, entry, peek } = framing;
  const { guides, setGuides, view, setView } = looks;
  const [guided, setGuided] = useState(false);
  useCommands("screen", { guides: () => setGuided((now) => !now) });
  const field = { onDone: commit, onEscape: typed ? drop : undefined, numeric: true };
  const resting = {
    zoom: restingAt(shown.rests.zoom, move.zoom),
    x: restingAt(shown.rests.x, move.x),
    y: restingAt(shown.rests.y, move.y),
  };
  const { travel } = shown.plan;
  const tick = (name: "safe" | "ratios" | "thirds", label: string, missing?: string) => (
    <Form.Check
      id={`guide-${name}`}
      label={label}
      {...tip(missing)}
      checked={guides[name]}
      onChange={(event) => setGuides({ ...guides, [name]: event.target.checked })}
    />
  );
  const none = "None set for this frame; set them in Deliveries";
  return (
    <section className="sheet in-frame" aria-label="In the frame">
      <div className="sheet-head">
        <h2>In the frame</h2>
        <div className="end">
          <Button
            size="sm"
            active={guided}
            aria-expanded={guided}
            {...keysOf("guides")}
            onClick={() => setGuided(!guided)}
          >
            Guides <Key of="guides" />
          </Button>
          <Button
            size="sm"
            active={view.corner !== null}
            aria-pressed={view.corner !== null}
            {...keysOf("corner")}
            {...tip("View a corner pixel by pixel; this does not change the framing")}
            onClick={looks.nextCorner}
          >
            Corner <Key of="corner" />
          </Button>
        </div>
      </div>
      {guided && (
        <fieldset className="guide-row" aria-label="Guides">
          {tick("safe", "safe areas", frame.shape.safe_areas.length ? undefined : none)}
          {tick("ratios", "ratios", frame.shape.guides.length ? undefined : none)}
          {tick("thirds", "thirds")}
        </fieldset>
      )}
      {view.corner && (
        <fieldset className="guide-row" aria-label="Corner view">
          <span>view</span>
          <Form.Select
            size="sm"
            aria-label="Corner"
            value={view.corner}
            onChange={(event) => setView({ ...view, corner: event.target.value as Corner })}
          >
            {Object.keys(CORNERS).map((corner) => (
              <option key={corner}>{corner}</option>
            ))}
          </Form.Select>
          <ButtonGroup size="sm" aria-label="Magnification in percent">
            {MAGNIFICATIONS.map((percent) => (
              <Button
                key={percent}
                active={view.percent === percent}
                aria-pressed={view.percent === percent}
                onClick={() => setView({ ...view, percent })}
              >
                {percent}
              </Button>
            ))}
          </ButtonGroup>
          <span>%</span>
        </fieldset>
      )}
      {away && (
        <Notice slim role="alert">
          The server does not answer. Your change is kept here and saved when it does; the numbers are from
          before.
        </Notice>
      )}
      {problem && (problem.status === 410 || problem.status === 404) && (
        <Notice slim role="alert">
          {problem.detail} {problem.hint}
        </Notice>
      )}
      {/* Its room is kept, so that the drawing does not move under the hand that begins. */}
      {!framing.plans && !peek && (
        <Notice slim role="status" className={typed || entry ? "" : "invisible"}>
          <span>Not saved: you can look, not change.</span>
          <Button size="sm" onClick={drop}>
            Discard <kbd>Esc</kbd>
          </Button>
        </Notice>
      )}
      {peek && (
        <Notice slim role="status">
          <span>
            Preview of <b>{peek.name}</b>. <Key of="compare" /> switches back.
          </span>
          <For may="plan">
            <Button size="sm" onClick={() => framing.takeFraming(peek.framing)}>
              Use it
            </Button>
          </For>
        </Notice>
      )}
      <FrameDrawing
        source={source}
        frame={frame}
        conversion={shown}
        image={image}
        handles={handles}
        guides={guides}
        view={view}
      />
      <p className="travel">
        travel ±<span className="num">{short(travel.x.value, 1)}</span> px across, ±
        <span className="num">{short(travel.y.value, 1)}</span> px up and down
        {source.picture && (
          <a
            className="d-block"
            href={`/api/v1/projects/${framing.path.project}/conversions/${source.id}/${frame.id}/outcome`}
            download={`${source.values.name} into ${frame.values.name}.png`}
            {...tip(
              "The picture carried out at the size of the frame, by what is taken in its proof or Lanczos: PNG, as deep as the still",
            )}
          >
            Save outcome
          </a>
        )}
      </p>
      <div className="fields">
        <Field
          className="wide"
          label="zoom"
          aside={resting.zoom}
          unit="×"
          value={shownNumber(move.zoom, typed)}
          wrong={wrongAt(problem, "/own/zoom")}
          onText={(zoom) => edit({ zoom })}
          {...field}
        />
        <Field
          label="shift right"
          aside={resting.x}
          unit="px"
          value={shownNumber(move.x, typed)}
          wrong={wrongAt(problem, "/own/shift/0")}
          onText={(x) => edit({ x })}
          {...field}
        />
        <Field
          label="shift down"
          aside={resting.y}
          unit="px"
          value={shownNumber(move.y, typed)}
          wrong={wrongAt(problem, "/own/shift/1")}
          onText={(y) => edit({ y })}
          {...field}
        />
      </div>
    </section>
  );
}
