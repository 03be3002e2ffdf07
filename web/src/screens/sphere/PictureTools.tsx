import { useEffect, useRef, useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { Orientation, Source } from "../../api/client";
import type { components } from "../../api/schema";
import { short } from "../../drawing/numbers";
import { Field } from "../../fields/Field";
import { MovieFrame } from "../../fields/MovieFrame";
import { angle } from "./look";
import { Angles } from "./TurnTools";
import type { OnSpheres } from "./useOnSphere";

interface Props {
  pictures: OnSpheres;
  /** Where each of them stands now. */
  seen: components["schemas"]["OnSphereSeen"][];
  /** Where the view looks: a new one is put there. */
  look: Orientation;
  /** Sources whose still may be put on it. */
  stills: Source[];
}

/** Pictures that stand on the sphere: captions, files, stills of other sources; where, how wide, how sharp. */
export function PictureTools({ pictures, seen, look, stills }: Props) {
  const { list, at, standing, keep } = pictures;
  const [words, setWords] = useState("");
  const [typed, setTyped] = useState<{ width?: string; distance?: string }>({});
  const input = useRef<HTMLInputElement>(null);
  const [movie, setMovie] = useState<File>();
  const width = standing?.width ?? "";
  // biome-ignore lint/correctness/useExhaustiveDependencies: what comes in another way counts
  useEffect(() => setTyped({}), [width, at]);
  const number = (text: string) => Number(text.replace(",", "."));
  const wide = typed.width === undefined || (number(typed.width) > 0 && number(typed.width) < 180);
  const far =
    typed.distance === undefined || (number(typed.distance) >= 0.01 && number(typed.distance) <= 1000);
  const here = seen[at];
  const chosen = list[at];
  const addWords = () => {
    if (words.trim() === "") return;
    void pictures.addCaption(words.trim(), look);
    setWords("");
  };
  const name = (place: number) => `${place + 1} ${list[place]?.file || "picture"}`;
  return (
    <fieldset className="tools" aria-label="Pictures on the sphere">
      <h2>
        <i className="swatch standing" /> Pictures on the sphere
      </h2>
      <div className="tool-row">
        <Form.Control
          size="sm"
          aria-label="caption"
          placeholder="a caption"
          maxLength={200}
          value={words}
          onChange={({ target }) => setWords(target.value)}
          onKeyDown={(event) => {
            if (event.key !== "Enter") return;
            event.preventDefault();
            event.stopPropagation();
            addWords();
          }}
        />
        <Button size="sm" disabled={words.trim() === ""} onClick={addWords}>
          Put it on
        </Button>
        <Button size="sm" onClick={() => input.current?.click()}>
          From a file
        </Button>
        <input
          ref={input}
          type="file"
          hidden
          aria-label="A picture for the sphere"
          accept="image/*,.exr,.dpx,video/*"
          onChange={({ target }) => {
            const [file] = target.files ?? [];
            if (file?.type.startsWith("video/")) setMovie(file);
            else if (file) void pictures.addFile(file, look);
            target.value = "";
          }}
        />
        {stills.length > 0 && (
          <Form.Select
            size="sm"
            aria-label="still of a source"
            value=""
            onChange={({ target }) => {
              const source = stills.find(({ id }) => String(id) === target.value);
              if (source) pictures.addStillOf(source, look);
            }}
          >
            <option value="">a still of …</option>
            {stills.map(({ id, values }) => (
              <option key={id} value={id}>
                {values.name}
              </option>
            ))}
          </Form.Select>
        )}
      </div>
      {movie ? (
        <MovieFrame
          movie={movie}
          onClose={() => setMovie(undefined)}
          onTake={(still) => {
            setMovie(undefined);
            void pictures.addFile(still, look);
          }}
        />
      ) : chosen && standing ? (
        <>
          <div className="tool-row">
            <Form.Select
              size="sm"
              aria-label="picture"
              value={at}
              onChange={({ target }) => pictures.choose(Number(target.value))}
            >
              {list.map((each, place) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: the place is what it is known by
                <option key={`${place} ${each.content}`} value={place}>
                  {name(place)}
                </option>
              ))}
            </Form.Select>
            <Button size="sm" onClick={pictures.remove}>
              Take it off
            </Button>
          </div>
          <div className="fields angles of-picture">
            <Angles
              value={standing.orientation}
              onKeep={(orientation) => keep({ ...standing, orientation })}
            />
            <Field
              label="wide"
              unit="°"
              numeric
              value={typed.width ?? String(Math.round(Number(width) * 1000) / 1000)}
              wrong={wide ? undefined : "over 0° and under 180°"}
              onText={(width) => setTyped({ width })}
              onDone={() => {
                if (wide && typed.width !== undefined)
                  keep({ ...standing, width: String(number(typed.width)) });
              }}
              onEscape={() => setTyped({})}
            />
            <Field
              label="widths away"
              numeric
              value={typed.distance ?? (here ? short(here.distance, 3) : "")}
              wrong={far ? undefined : "from 0.01 to 1000"}
              onText={(distance) => setTyped({ distance })}
              onDone={() => {
                if (far && typed.distance !== undefined) void pictures.setDistance(typed.distance.trim());
              }}
              onEscape={() => setTyped({})}
            />
          </div>
          {here && (
            <p className="small mb-0" role="status">
              {angle(here.height)} high; {chosen.raster.join("x")},{" "}
              {here.scale > 1
                ? `enlarged to ${short(here.scale * 100, 0)} %: sharp with ${Math.ceil(here.native_width)} px across`
                : `sharp: shown at ${short(here.scale * 100, 0)} % of its size`}
              {here.crosses_seam && <b className="text-caution"> · it crosses the seam</b>}
              {here.holds_pole && <b className="text-caution"> · a pole lies in it</b>}
            </p>
          )}
        </>
      ) : (
        <p className="quiet small mb-0">
          A caption, a file (of a movie one frame) or a still of another source is put where the view looks;
          then drag it.
        </p>
      )}
    </fieldset>
  );
}
