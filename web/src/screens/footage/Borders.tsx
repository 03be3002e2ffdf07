import { useRef, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { api, type BordersFound, type Source, settled } from "../../api/client";
import { count, percent, ratio } from "../../drawing/numbers";
import { usePicture } from "../../drawing/picture";
import { failureText } from "../../notices/notices";
import { useEdit } from "../../writes/useEdit";

type Sides = BordersFound["insets"];

/** What was found of a source, or why nothing was. */
interface Found {
  source: Source;
  borders?: BordersFound | undefined;
  why?: string | undefined;
}

const SIDES = ["left", "top", "right", "bottom"] as const;
const text = ({ left, top, right, bottom }: Sides) => `${left}/${top}/${right}/${bottom}`;
/** From how sure on a finding is taken unless somebody says otherwise. */
const SURE = 0.7;

/** Black edges of stills, measured to the pixel: each proposal is taken or not. */
export function Borders({ project, picked }: { project: number; picked: Source[] }) {
  const edit = useEdit(project);
  const [found, setFound] = useState<Found[]>();
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set());
  const [done, setDone] = useState<number>();
  const stop = useRef(false);
  const shown = picked.filter(({ picture }) => picture);
  const look = async () => {
    stop.current = false;
    const all: Found[] = [];
    setDone(0);
    for (const source of shown) {
      if (stop.current) break;
      try {
        const path = { project, source: source.id };
        const borders = await settled(
          api.GET("/api/v1/projects/{project}/sources/{source}/borders", { params: { path } }),
        );
        all.push({ source, borders });
      } catch (error) {
        all.push({ source, why: failureText(error) });
      }
      setDone(all.length);
    }
    setDone(undefined);
    setFound(all);
    setLeft(
      new Set(
        all.filter(({ borders }) => !borders || borders.confidence < SURE).map(({ source }) => source.id),
      ),
    );
  };
  const news = (found ?? []).filter(
    ({ source, borders }) => borders && text(borders.insets) !== text(source.values.geometry.active),
  );
  const taken = news.filter(({ source }) => !left.has(source.id));
  const take = async () => {
    const groups = new Map<string, { active: Sides; sources: number[] }>();
    for (const { source, borders } of taken) {
      if (!borders) continue;
      const group = groups.get(text(borders.insets)) ?? { active: borders.insets, sources: [] };
      group.sources.push(source.id);
      groups.set(text(borders.insets), group);
    }
    for (const { active, sources } of groups.values())
      await edit({ edit: "set_sources", sources, set: { active } });
    setFound(undefined);
  };
  const toggle = (id: number) =>
    setLeft((before) => {
      const after = new Set(before);
      if (!after.delete(id)) after.add(id);
      return after;
    });
  const [only] = picked.length === 1 ? (found ?? []) : [];
  return (
    <fieldset className="borders" aria-label="Borders">
      <div className="tool-row">
        {done === undefined ? (
          <Button size="sm" disabled={shown.length === 0} onClick={look}>
            Find black borders
          </Button>
        ) : (
          <Button
            size="sm"
            onClick={() => {
              stop.current = true;
            }}
          >
            Stop
          </Button>
        )}
        <span className="quiet small" role="status">
          {done !== undefined
            ? `${done} of ${shown.length} measured`
            : found
              ? news.length === 0
                ? "The insets match the borders."
                : `${count(news.length, "source")} with other borders than their insets`
              : shown.length < picked.length && picked.length > 1
                ? `${shown.length} of ${picked.length} have a picture`
                : "measured in the picture, to the pixel"}
        </span>
        {found && taken.length > 0 && (
          <Button size="sm" variant="ink" onClick={take}>
            Set insets of {count(taken.length, "source")}
          </Button>
        )}
      </div>
      {found && (
        <ul className="found">
          {found
            .filter(({ source, why }) => why || news.some((one) => one.source.id === source.id))
            .slice(0, 40)
            .map(({ source, borders, why }) => (
              <li key={source.id}>
                {borders ? (
                  <Form.Check
                    id={`border-${source.id}`}
                    checked={!left.has(source.id)}
                    onChange={() => toggle(source.id)}
                    label={
                      <>
                        {picked.length > 1 && <b>{source.values.name} </b>}
                        <span className="num">{text(borders.insets)}</span>{" "}
                        <span className="quiet">
                          {percent(borders.confidence)} % sure, now {text(source.values.geometry.active)},
                          shows {ratio(borders.ratio)}
                          {borders.meant ? `: meant as ${borders.meant}` : ""}
                        </span>
                      </>
                    }
                  />
                ) : (
                  <span className="small">
                    {source.values.name}: {why}
                  </span>
                )}
              </li>
            ))}
        </ul>
      )}
      {only?.borders && <Edges source={only.source} insets={only.borders.insets} />}
    </fieldset>
  );
}

/** How many pixels of the picture an enlarged edge shows. */
const SPAN = 24;

/** The picture at each edge, enlarged, with a line where the border ends. */
function Edges({ source, insets }: { source: Source; insets: Sides }) {
  const href = usePicture(source, 4096, "stored");
  const [width = 1, height = 1] = source.values.geometry.raster;
  if (!href) return null;
  const middle = {
    x: (insets.left + width - insets.right) / 2,
    y: (insets.top + height - insets.bottom) / 2,
  };
  const at = {
    left: { x: insets.left, y: middle.y },
    right: { x: width - insets.right, y: middle.y },
    top: { x: middle.x, y: insets.top },
    bottom: { x: middle.x, y: height - insets.bottom },
  };
  return (
    <div className="edges">
      {SIDES.map((side) => {
        const { x, y } = at[side];
        const box = { x: x - SPAN / 2, y: y - SPAN / 2 };
        const down = side === "left" || side === "right";
        return (
          <figure key={side}>
            <svg
              viewBox={`${box.x} ${box.y} ${SPAN} ${SPAN}`}
              width="84"
              height="84"
              role="img"
              aria-label={side}
            >
              <image
                href={href}
                width={width}
                height={height}
                preserveAspectRatio="none"
                imageRendering="pixelated"
              />
              <path
                className="d-found"
                d={down ? `M${x} ${box.y}v${SPAN}` : `M${box.x} ${y}h${SPAN}`}
                vectorEffect="non-scaling-stroke"
              />
            </svg>
            <figcaption className="num">
              {side} {insets[side]}
            </figcaption>
          </figure>
        );
      })}
    </div>
  );
}
