import { useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Button, Form } from "react-bootstrap";
import { api, type FrameValues, type HouseFrame, settled, wrongAt } from "../../api/client";
import { libraryQuery } from "../../api/queries";
import { FrameShapeMark } from "../../drawing/crossing";
import { raster, rate } from "../../drawing/numbers";
import { Field } from "../../fields/Field";
import { useRemoval } from "../../fields/RecordSheet";
import { useDraft } from "../../fields/useDraft";
import { useNotices } from "../../notices/notices";
import { Fixed, For } from "../../people/may";

/** A frame that can be taken out of the library into a project. */
export interface Entry {
  key: string;
  values: FrameValues;
  /** Where a published frame is defined. */
  source?: string | undefined;
  /** The record of a frame of the house. */
  own?: HouseFrame | undefined;
}

interface RowProps {
  entry: Entry;
  picked: boolean;
  onPick: (on: boolean) => void;
}

export function LibraryRow(props: RowProps) {
  const { own, values, source } = props.entry;
  if (own) return <HouseRow {...props} own={own} />;
  return <Row {...props} name={<b>{values.name}</b>} end={source} />;
}

/** A frame of the house: name and heading edit where they stand. */
function HouseRow({ own, ...row }: RowProps & { own: HouseFrame }) {
  const client = useQueryClient();
  const { tell } = useNotices();
  const refresh = () => client.invalidateQueries({ queryKey: libraryQuery.queryKey });
  const path = { frame: own.id };
  const { group, frame } = own.values;
  const { value, typed, refusal, edit, commit, drop } = useDraft({
    draft: { name: frame.name, group, frame },
    version: own.version,
    read: (record) => {
      const { group, frame } = (record as HouseFrame).values;
      return { name: frame.name, group, frame };
    },
    refresh,
    save: async (draft, version) => {
      const saved = await settled(
        api.PUT("/api/v1/library/frames/{frame}", {
          params: { path, header: { "If-Match": `"${version}"` } },
          body: { group: draft.group, frame: { ...draft.frame, name: draft.name } },
        }),
      );
      await refresh();
      return saved.version;
    },
  });
  const remove = useRemoval({
    name: frame.name,
    refresh,
    remove: () =>
      settled(
        api.DELETE("/api/v1/library/frames/{frame}", {
          params: { path, header: { "If-Match": `"${own.version}"` } },
        }),
      ),
    onGone: () => tell(`“${frame.name}” removed from the library.`),
  });
  const field = (label: string, key: "name" | "group", pointer: string) => (
    <Fixed may="house">
      <Field
        label={label}
        className="bare"
        value={value[key]}
        wrong={wrongAt(refusal, pointer)}
        onText={(text) => edit({ [key]: text })}
        onDone={commit}
        onEscape={drop}
      />
    </Fixed>
  );
  return (
    <Row
      {...row}
      name={field(`name of ${frame.name}`, "name", "/frame/name")}
      end={
        <span className="d-flex gap-2 align-items-center">
          {field(`heading of ${frame.name}`, "group", "/group")}
          <For may="house">
            <Button
              size="sm"
              variant="plain"
              className="text-nowrap"
              disabled={typed !== null}
              onClick={remove}
              aria-label={`Remove ${frame.name} from the library`}
            >
              Remove
            </Button>
          </For>
        </span>
      }
    />
  );
}

function Row({ entry, picked, onPick, name, end }: RowProps & { name: ReactNode; end: ReactNode }) {
  const { values } = entry;
  const { raster: size, pixel_aspect: aspect, picture_ratio: picture } = values.geometry;
  const more = [
    aspect !== "1" && `${aspect} pixels`,
    picture && `picture ${picture}`,
    values.rate && `${rate(values.rate)} fps`,
  ]
    .filter(Boolean)
    .join(", ");
  return (
    <tr aria-selected={picked}>
      <td className="ps-3">
        <For may="plan">
          {" "}
          <Form.Check
            checked={picked}
            aria-label={`Select ${values.name}`}
            onChange={(event) => onPick(event.target.checked)}
          />
        </For>{" "}
      </td>
      <td>
        <FrameShapeMark raster={size} pixelAspect={aspect} width={34} height={24} />
      </td>
      <td>{name}</td>
      <td className="num">
        {raster(size)}
        {more && <small className="d-block quiet text-wrap">{more}</small>}
      </td>
      <td className="quiet small">{end}</td>
    </tr>
  );
}
