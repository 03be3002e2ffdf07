import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { type ActivePictureValues, api, type Source, settled, wrongAt } from "../../api/client";
import { libraryQuery } from "../../api/queries";
import { count, fraction, percent, raster } from "../../drawing/numbers";
import { pictureText } from "../../drawing/summary";
import { Choice, Field } from "../../fields/Field";
import { useNewRecord } from "../../fields/RecordSheet";
import { useNotices } from "../../notices/notices";
import { For } from "../../people/may";
import { tip } from "../../tip";
import { useEdit } from "../../writes/useEdit";

/** Active pictures by name and by ratio, for the sources that are picked. */
export function ActivePictureTools({ project, picked }: { project: number; picked: Source[] }) {
  const edit = useEdit(project);
  const { data: library } = useQuery(libraryQuery);
  const [wanted, setWanted] = useState("");
  const [guide, setGuide] = useState("4:3");
  const [wrong, setWrong] = useState<string>();
  const pictures = library?.active_pictures ?? [];
  const chosen = pictures.find(({ id }) => String(id) === wanted) ?? pictures[0];
  const sources = picked.map(({ id }) => id);
  const apply = (picture: ActivePictureValues) => edit({ edit: "apply_active_picture", sources, picture });
  const cut = async () => {
    const { problem } = await apply({ name: `${guide.trim() || "4:3"} guide`, guide: guide.trim() });
    setWrong(problem && (wrongAt(problem, "/picture/guide") ?? problem.detail));
  };
  const fits = picked.filter(
    ({ values }) =>
      chosen?.values.guide || raster(values.geometry.raster) === raster(chosen?.values.raster ?? []),
  );
  const [only] = picked.length === 1 ? picked : [];
  return (
    <fieldset className="tools" aria-label="Active picture">
      <h3>Active picture</h3>
      {only && <RatioLine source={only} project={project} />}
      <div className="tool-row">
        {chosen ? (
          <>
            <Choice
              label="saved by name"
              value={String(chosen.id)}
              options={pictures.map(({ id, values }) => [String(id), pictureText(values)] as const)}
              onChoose={setWanted}
            />
            <Button size="sm" disabled={fits.length === 0} onClick={() => apply(chosen.values)}>
              {fits.length === picked.length
                ? `Apply to ${count(picked.length, "source")}`
                : `Apply to ${fits.length} of ${picked.length}`}
            </Button>
          </>
        ) : (
          <span className="quiet small">None saved yet.</span>
        )}
      </div>
      <div className="tool-row">
        <Field
          label="guide ratio, as stored"
          unit=": 1"
          numeric
          value={guide}
          wrong={wrong}
          onText={(text) => {
            setGuide(text);
            setWrong(undefined);
          }}
          onEnter={cut}
        />
        <Button size="sm" onClick={cut}>
          Crop {count(picked.length, "source")} to guide
        </Button>
      </div>
      {only && (
        <For may="house">
          <KeepByName source={only} />
        </For>
      )}
    </fieldset>
  );
}

/** Whether the insets keep the ratio of the raster, and the nearest that do. */
function RatioLine({ source, project }: { source: Source; project: number }) {
  const edit = useEdit(project);
  const { inset_stretch: stretch, ratio_keeping: keeping } = source.shape;
  const { left, top, right, bottom } = source.values.geometry.active;
  if (left + top + right + bottom === 0) return null;
  if (stretch.value === 0) {
    return <p className="small mb-1">These insets keep the ratio of the raster.</p>;
  }
  return (
    <div className="tool-row">
      <p className="small mb-0" {...tip(fraction(stretch))}>
        These insets change the ratio by {percent(Math.abs(stretch.value))} %. Stretched to the size of the
        whole raster, everything comes out {stretch.value > 0 ? "narrower" : "wider"}.
      </p>
      {keeping && (
        <Button
          size="sm"
          onClick={() => edit({ edit: "set_sources", sources: [source.id], set: { active: keeping } })}
        >
          Keep ratio: {keeping.left}/{keeping.top}/{keeping.right}/{keeping.bottom}
        </Button>
      )}
    </div>
  );
}

function KeepByName({ source }: { source: Source }) {
  const client = useQueryClient();
  const { tell } = useNotices();
  const { geometry } = source.values;
  const { left, top, right, bottom } = geometry.active;
  const { draft, refusal, edit, store } = useNewRecord({ name: "", keep: false }, async ({ name, keep }) => {
    const body = { name, raster: geometry.raster, insets: geometry.active, keep_ratio: keep };
    await settled(api.POST("/api/v1/library/active-pictures", { body }));
    await client.invalidateQueries({ queryKey: libraryQuery.queryKey });
    tell(`“${name}” saved for ${raster(geometry.raster)} sources of any project.`);
    edit({ name: "" });
  });
  if (left + top + right + bottom === 0) return null;
  return (
    <div className="tool-row">
      <Field
        label={`name for ${left}/${top}/${right}/${bottom}`}
        empty="such as Desk recorder border"
        value={draft.name}
        wrong={wrongAt(refusal, "/name")}
        onText={(name) => edit({ name })}
        onEnter={store}
      />
      <Form.Check
        id="keep-ratio"
        label="keep ratio"
        checked={draft.keep}
        onChange={(event) => edit({ keep: event.target.checked })}
      />
      <Button size="sm" onClick={store}>
        Save
      </Button>
    </div>
  );
}
