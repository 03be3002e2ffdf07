import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useId, useRef, useState } from "react";
import { Button, ButtonGroup, Form, Table } from "react-bootstrap";
import { useSearchParams } from "react-router";
import {
  api,
  type Extraction,
  type FrameShape,
  type FrameValues,
  preview,
  settled,
  wrongAt,
} from "../../api/client";
import { framePreview, libraryQuery, refreshProject } from "../../api/queries";
import { fraction, percent, raster, short } from "../../drawing/numbers";
import { Choice, Field, whole } from "../../fields/Field";
import { draftOf, type FrameDraft, NEW_FRAME, valuesOf } from "../../fields/frameDraft";
import { AddOrCancel, useNewRecord } from "../../fields/RecordSheet";
import { useBoard } from "../../shell/ProjectLayout";
import { tip } from "../../tip";
import { useWrite } from "../../writes/useWrite";
import { FrameFields } from "./FrameFields";

/** A new frame: by its size, or as a ratio out of a container. */
export function NewFrame({
  project,
  onAdded,
  onCancel,
}: {
  project: number;
  onAdded: (id: number) => void;
  onCancel?: (() => void) | undefined;
}) {
  const client = useQueryClient();
  const [search] = useSearchParams();
  const write = useWrite(["project", project]);
  const [way, setWay] = useState<"size" | "ratio">(search.get("by") === "ratio" ? "ratio" : "size");
  const proposal = useRef("");
  const ratioName = useRef("");
  const named = (draft: FrameDraft) => ({ ...draft, name: draft.name.trim() || proposal.current });
  const { draft, refusal, edit, store, pending } = useNewRecord(NEW_FRAME, async (draft) => {
    const body = valuesOf(named(draft));
    const added = await write(() =>
      settled(api.POST("/api/v1/projects/{project}/frames", { params: { path: { project } }, body })),
    );
    await refreshProject(client, project);
    onAdded(added.id);
  });
  // Without a name it gets the one that its numbers propose.
  const { data } = useQuery(framePreview(valuesOf({ ...draft, name: draft.name || "new" })));
  if (data?.sound) proposal.current = data.value.proposed_name;
  return (
    <form
      className="sheet"
      aria-label="New frame"
      onSubmit={(event) => {
        event.preventDefault();
        void store();
      }}
    >
      <div className="sheet-head">
        <h2>New frame</h2>
        <ButtonGroup className="end" size="sm" aria-label="Find the size">
          <Button active={way === "size"} aria-pressed={way === "size"} onClick={() => setWay("size")}>
            By size
          </Button>
          <Button active={way === "ratio"} aria-pressed={way === "ratio"} onClick={() => setWay("ratio")}>
            By ratio
          </Button>
        </ButtonGroup>
      </div>
      <div className="scroll">
        {way === "size" && <StartFrom onChoose={(values) => edit({ ...draftOf({ values }), name: "" })} />}
        {way === "ratio" && (
          <ByRatio
            chosen={[draft.width, draft.height]}
            onChoose={([width, height], name) => {
              // A name that was given stays; one that came from another ratio goes with it.
              const given = draft.name && draft.name !== ratioName.current;
              ratioName.current = name;
              edit({ width: String(width), height: String(height), ...(given ? {} : { name }) });
            }}
          />
        )}
        <FrameFields
          nameFirst={way === "size"}
          draft={draft}
          proposed={data?.sound ? data.value.proposed_name : undefined}
          problem={refusal ?? (data && !data.sound ? data.problem : undefined)}
          edit={edit}
        />
        {data?.sound && <ShapeLine shape={data.value} />}
        {data?.sound && draft.name !== "" && draft.name !== data.value.proposed_name && (
          <p className="px-3 mb-2 small">
            Suggested name:{" "}
            <Button size="sm" variant="plain" onClick={() => edit({ name: data.value.proposed_name })}>
              {data.value.proposed_name}
            </Button>
          </p>
        )}
      </div>
      <AddOrCancel what="frame" pending={pending} onCancel={onCancel} />
    </form>
  );
}

/** The frames that a new one can be started from: of this project, of the house, published. */
function StartFrom({ onChoose }: { onChoose: (values: FrameValues) => void }) {
  const { frames } = useBoard();
  const { data: library } = useQuery(libraryQuery);
  const [chosen, setChosen] = useState("");
  const groups: [string, FrameValues[]][] = [
    ["this project", frames.map(({ values }) => values)],
    ["the house", library?.frames.map(({ values }) => values.frame) ?? []],
    ...(library?.published.map(({ title, frames }): [string, FrameValues[]] => [
      title,
      frames.map(({ values }) => values),
    ]) ?? []),
  ];
  const id = useId();
  return (
    <div className="fields pb-0">
      <div className="field wide">
        <label htmlFor={id}>start from</label>
        <div className="entry">
          <Form.Select
            id={id}
            value={chosen}
            onChange={(event) => {
              const [group = 0, at = 0] = event.target.value.split(".").map(Number);
              const values = groups[group]?.[1][at];
              setChosen(event.target.value);
              if (values) onChoose(values);
            }}
          >
            <option value="" disabled>
              another frame
            </option>
            {groups.map(([title, frames], group) => (
              <optgroup key={title} label={title}>
                {frames.map(({ name, geometry }, at) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: frames of one name are told apart by their place alone
                  <option key={`${name} ${at}`} value={`${group}.${at}`}>
                    {name} ({raster(geometry.raster)})
                  </option>
                ))}
              </optgroup>
            ))}
          </Form.Select>
        </div>
      </div>
    </div>
  );
}

/** What the numbers of a frame amount to, in a line. */
export function ShapeLine({ shape }: { shape: FrameShape }) {
  const { picture_area: area, ratio, picture_ratio: pictureRatio, published, on_step } = shape;
  return (
    <p className="quiet px-3 mb-2 small">
      The whole frame is{" "}
      <span className="num" {...tip(fraction(ratio))}>
        {short(ratio.value, 4)}:1
      </span>
      ; the visible area is{" "}
      <span className="num">
        {raster([area.width, area.height])} at {area.x}, {area.y}
      </span>{" "}
      and shows{" "}
      <span className="num" {...tip(fraction(pictureRatio))}>
        {short(pictureRatio.value, 4)}:1
      </span>
      .{published ? ` Published as ${published.name} (${published.source}).` : ""}
      {on_step ? "" : " A side is off its rounding: many encoders refuse such a frame."}
    </p>
  );
}

function ByRatio({
  chosen,
  onChoose,
}: {
  chosen: [string, string];
  onChoose: (frame: readonly number[], name: string) => void;
}) {
  const [width, setWidth] = useState("3840");
  const [height, setHeight] = useState("2160");
  const [wanted, setWanted] = useState("2.39");
  const [keep, setKeep] = useState<"inside" | "width" | "height">("inside");
  const body = {
    kind: "extraction" as const,
    container: [whole(width), whole(height)],
    pixel_aspect: "1",
    ratio: wanted.trim(),
    keep,
    step: 2 as const,
    round: "down" as const,
  };
  const { data } = useQuery({
    queryKey: ["extraction", body],
    queryFn: () => preview(api.POST("/api/v1/calc", { body })),
    placeholderData: keepPreviousData,
  });
  const problem = data && !data.sound ? data.problem : undefined;
  const [lastGood, setLastGood] = useState<Extraction>();
  const result = data?.sound && data.value.kind === "extraction" ? data.value : lastGood;
  if (result !== lastGood) setLastGood(result);
  const name = `${wanted.trim()} out of ${width}×${height}`;
  // The published frame comes first, then what rounds down to even sides. What is shown is what is added.
  const proposed = result?.proposed?.frame ?? result?.frame;
  const shown = proposed?.join("x");
  const take = useRef(onChoose);
  take.current = onChoose;
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is taken when another one is shown
  useEffect(() => {
    if (proposed && !problem) take.current(proposed, name);
  }, [shown, name]);
  return (
    <>
      <div className="fields">
        <Field
          label="container width"
          unit="px"
          numeric
          autoFocus
          value={width}
          wrong={wrongAt(problem, "/container/0", "/container")}
          onText={setWidth}
        />
        <Field
          label="container height"
          unit="px"
          numeric
          value={height}
          wrong={wrongAt(problem, "/container/1")}
          onText={setHeight}
        />
        <Field
          label="ratio"
          unit=": 1"
          numeric
          value={wanted}
          wrong={wrongAt(problem, "/ratio")}
          onText={setWanted}
        />
        <Choice
          label="keep"
          value={keep}
          options={[
            ["inside", "inside both"],
            ["width", "the width"],
            ["height", "the height"],
          ]}
          onChoose={(value) => setKeep(value as typeof keep)}
        />
      </div>
      {result && (
        <>
          <p className="px-3 mb-1 small">
            Before rounding:{" "}
            <b className="num" {...tip(fraction(result.exact[0] ?? result.ratio))}>
              {short(result.exact[0]?.value ?? 0, 3)}
            </b>{" "}
            ×{" "}
            <b className="num" {...tip(fraction(result.exact[1] ?? result.ratio))}>
              {short(result.exact[1]?.value ?? 0, 3)}
            </b>{" "}
            <span className="quiet">
              {result.exact.some((each) => each.exact.includes("/")) &&
                `(exactly ${result.exact.map((each) => each.exact).join(" × ")})`}
            </span>
          </p>
          <p className="px-3 mb-1 small">
            {result.proposed ? (
              <>
                <b className="num">{raster(result.proposed.frame)}</b> is published as {result.proposed.name}{" "}
                ({result.proposed.source}); rounded down to even sides it is{" "}
                <b className="num">{raster(result.frame)}</b>.
              </>
            ) : (
              <>
                <b className="num">{raster(result.frame)}</b>, rounded down to even sides.
              </>
            )}
          </p>
          <Table className="register" size="sm">
            <thead>
              <tr>
                <th className="ps-3">use</th>
                <th>rounding</th>
                <th>frame</th>
                <th>shows</th>
                <th>off by</th>
              </tr>
            </thead>
            <tbody>
              {result.candidates.map((candidate) => {
                const [w = 0, h = 0] = candidate.frame;
                const taken = String(w) === chosen[0] && String(h) === chosen[1];
                return (
                  <tr key={candidate.step} aria-selected={taken}>
                    <td className="ps-3">
                      <Button
                        size="sm"
                        active={taken}
                        aria-pressed={taken}
                        aria-label={`Use ${w} by ${h}`}
                        onClick={() => onChoose(candidate.frame, name)}
                      >
                        {taken ? "used" : "use"}
                      </Button>
                    </td>
                    <td className="num">
                      {candidate.step === 1 ? "any" : candidate.step === 2 ? "even" : `÷${candidate.step}`}
                    </td>
                    <td className="num">
                      <b>{raster(candidate.frame)}</b>
                    </td>
                    <td className="num" {...tip(fraction(candidate.ratio))}>
                      {short(candidate.ratio.value, 4)}
                    </td>
                    <td className="num" {...tip(fraction(candidate.deviation))}>
                      {candidate.deviation.value > 0 ? "+" : ""}
                      {percent(candidate.deviation.value)} %
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </Table>
          <p className="px-3 py-1 m-0 small quiet">
            {result.published.length > 0
              ? `Published nearby: ${result.published.map(({ name, frame }) => `${name} ${raster(frame)}`).join(", ")}. `
              : ""}
            Sides are even because 4:2:0 stores colour once for two columns and two lines.
          </p>
        </>
      )}
    </>
  );
}
