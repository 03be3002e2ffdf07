import { useState } from "react";
import { Button, ButtonGroup, Form } from "react-bootstrap";
import { type Frame, type Source, wrongAt } from "../../api/client";
import { short } from "../../drawing/numbers";
import { Field } from "../../fields/Field";
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
  const { shown, move, image, problem, away, handles, edit, commit, drop, typed, peek } = framing;
  const { guides, setGuides, view, setView } = looks;
  const [guided, setGuided] = useState(false);
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
      title={missing}
      checked={guides[name]}
      onChange={(event) => setGuides({ ...guides, [name]: event.target.checked })}
    />
  );
  const none = "This frame has none: they are set with the frame, in Deliveries.";
  return (
    <section className="sheet in-frame" aria-label="In the frame">
      <div className="sheet-head">
        <h2>In the frame</h2>
        <div className="end">
          <Button
            size="sm"
            active={guided}
            aria-expanded={guided}
            aria-keyshortcuts="I"
            onClick={() => setGuided(!guided)}
          >
            Guides
          </Button>
          <Button
            size="sm"
            active={view.corner !== null}
            aria-pressed={view.corner !== null}
            aria-keyshortcuts="V"
            title="Look at a corner, pixel by pixel. It moves nothing; the framing's zoom does."
            onClick={looks.nextCorner}
          >
            Corner <kbd>V</kbd>
          </Button>
        </div>
      </div>
      {guided && (
        <div className="guide-row" role="group" aria-label="Guides">
          {tick("safe", "safe areas", frame.shape.safe_areas.length ? undefined : none)}
          {tick("ratios", "ratios", frame.shape.guides.length ? undefined : none)}
          {tick("thirds", "thirds")}
        </div>
      )}
      {view.corner && (
        <div className="guide-row" role="group" aria-label="View of a corner">
          <span>view</span>
          <Form.Select
            size="sm"
            aria-label="Corner that is looked at"
            value={view.corner}
            onChange={(event) => setView({ ...view, corner: event.target.value as Corner })}
          >
            {Object.keys(CORNERS).map((corner) => (
              <option key={corner}>{corner}</option>
            ))}
          </Form.Select>
          <ButtonGroup size="sm" aria-label="View, in screen pixels per delivery pixel">
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
        </div>
      )}
      {away && (
        <p className="notice slim" role="alert">
          The server does not answer. What you set is kept here, and stored as soon as it does; the drawing
          follows your hand, the numbers are the last that came.
        </p>
      )}
      {problem && (problem.status === 410 || problem.status === 404) && (
        <p className="notice slim" role="alert">
          {problem.detail} {problem.hint}
        </p>
      )}
      {peek && (
        <p className="notice slim" role="status">
          <span>
            Looking at <b>{peek.name}</b>; <kbd>F</kbd> flicks back.
          </span>
          <Button size="sm" onClick={() => framing.takeFraming(peek.framing)}>
            Take it
          </Button>
        </p>
      )}
      <FrameDrawing
        frame={frame}
        conversion={shown}
        image={image}
        handles={handles}
        subject={source.values.subject}
        guides={guides}
        view={view}
      />
      <p className="travel">
        travel ±<span className="num">{short(travel.x.value, 1)}</span> px across, ±
        <span className="num">{short(travel.y.value, 1)}</span> px up and down
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
