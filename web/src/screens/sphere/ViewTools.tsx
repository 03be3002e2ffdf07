import { useEffect, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import type { Source } from "../../api/client";
import type { components } from "../../api/schema";
import { short } from "../../drawing/numbers";
import { Field } from "../../fields/Field";
import { For } from "../../people/may";
import { angle, type Look } from "./look";
import { Angles } from "./TurnTools";

interface Props {
  project: number;
  views: Source[];
  chosen: Source | undefined;
  look: Look;
  seen: components["schemas"]["SphereLookResult"] | undefined;
  /** Whether the view shows where it is how sharp. */
  map: boolean;
  onMap: () => void;
  onChoose: (id: number | undefined) => void;
  onLook: (look: Look) => void;
  onAdd: () => void;
}

/** Where the view looks, how wide and how large it is, and how finely the sphere is sampled there. */
export function ViewTools(props: Props) {
  const { project, views, chosen, look, seen, map, onMap, onChoose, onLook, onAdd } = props;
  const [typed, setTyped] = useState<{ fov?: string; size?: string }>({});
  const size = look.raster.join("x");
  // biome-ignore lint/correctness/useExhaustiveDependencies: what comes in another way counts
  useEffect(() => setTyped({}), [look.fov, size]);
  const sides = /^\s*(\d{1,5})\s*[x×*, ]\s*(\d{1,5})\s*$/.exec(typed.size ?? size);
  const raster = sides && ([Number(sides[1]), Number(sides[2])] as [number, number]);
  const sound = raster?.every((side) => side >= 2 && side <= 65_536);
  const fov = Number((typed.fov ?? look.fov).replace(",", "."));
  const wide = fov > 0 && fov < 180;
  const keep = () => {
    if (raster && sound && wide && (typed.size !== undefined || typed.fov !== undefined))
      onLook({ ...look, raster, fov: String(fov) });
  };
  return (
    <fieldset className="tools" aria-label="View">
      <h2>
        <i className="swatch looking" /> Where the view looks
      </h2>
      <div className="tool-row">
        <Form.Select
          size="sm"
          aria-label="view"
          value={chosen?.id ?? ""}
          onChange={({ target }) => onChoose(target.value ? Number(target.value) : undefined)}
        >
          <option value="">looking around, nothing kept</option>
          {views.map(({ id, values }) => (
            <option key={id} value={id}>
              {values.name}
            </option>
          ))}
        </Form.Select>
        <For may="plan">
          <Button size="sm" variant="ink" onClick={onAdd}>
            Keep as a new view
          </Button>
        </For>
        {chosen && <Link to={`/projects/${project}/footage?source=${chosen.id}`}>In Footage</Link>}
      </div>
      <div className="fields angles">
        <Angles value={look.look} onKeep={(next) => onLook({ ...look, look: next })} />
        <Field
          label="wide"
          unit="°"
          numeric
          value={typed.fov ?? look.fov}
          wrong={wide ? undefined : "over 0° and under 180°"}
          onText={(fov) => setTyped((now) => ({ ...now, fov }))}
          onDone={keep}
          onEscape={() => setTyped({})}
        />
        <Field
          label="size"
          value={typed.size ?? size}
          wrong={sound ? undefined : "two sides such as 1920x1080"}
          onText={(size) => setTyped((now) => ({ ...now, size }))}
          onDone={keep}
          onEscape={() => setTyped({})}
        />
      </div>
      {seen && (
        <dl className="facts sphere-facts">
          <dt>pixels enlarged</dt>
          <dd className="num">
            middle {percent(seen.seen.centre_scale)}, edge {percent(seen.seen.edge_scale)}, corner{" "}
            {percent(seen.corner_scale)}
          </dd>
          <dt>sharp up to</dt>
          <dd className="num">{seen.native_width > 1 ? `${seen.native_width} px wide` : "no size"}</dd>
          <dt>map</dt>
          <dd>
            <Form.Check id="sphere-map" label="rings in the view" checked={map} onChange={onMap} />
          </dd>
          <dt>height</dt>
          <dd className="num">
            {angle(seen.seen.vertical_fov)}
            {seen.seen.outside && <b className="text-cut"> part of it lies outside the span</b>}
          </dd>
        </dl>
      )}
    </fieldset>
  );
}

const percent = (scale: number) => `${short(scale * 100, 0)} %`;
