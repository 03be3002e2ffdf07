import { useQuery } from "@tanstack/react-query";
import type { Edit, EditResult } from "../api/client";
import { editPreview } from "../api/queries";
import { count, percent, short } from "../drawing/numbers";
import { useBoard } from "../shell/ProjectLayout";

/** What becomes of framings of their own when a frame or a source changes its size under them. */
export function Follows({ framings }: { framings: EditResult["framings"] }) {
  const { sources, frames } = useBoard();
  const { follow, lose, limited } = framings;
  if (follow === 0) return null;
  const named = (list: readonly { id: number; values: { name: string } }[], id: number) =>
    list.find((each) => each.id === id)?.values.name ?? "";
  return (
    <div className="follows">
      <b>
        {count(follow, "framing")} {follow === 1 ? "follows" : "follow"} in proportion
      </b>
      {lose > 0
        ? `; ${lose} of them ${lose === 1 ? "loses" : "lose"} part of the picture`
        : ", nothing is lost"}
      .
      {limited.length > 0 && (
        <ul>
          {limited.slice(0, 5).map(({ source, frame, short: by, kept }) => {
            const held = [
              by.x.value > 0 && `${short(by.x.value, 0)} px across`,
              by.y.value > 0 && `${short(by.y.value, 0)} px up and down`,
            ].filter(Boolean);
            return (
              <li key={`${source} ${frame}`}>
                {named(sources, source)} into {named(frames, frame)}:{" "}
                {held.length > 0 && `held at the edge of the picture, ${held.join(" and ")} short; `}
                keeps {percent(kept[1]?.value ?? 0)} % of the picture instead of{" "}
                {percent(kept[0]?.value ?? 0)} %
              </li>
            );
          })}
          {limited.length > 5 && <li>and {count(limited.length - 5, "other")}</li>}
        </ul>
      )}
    </div>
  );
}

/** The same of an edit that has not been made; nothing without one. */
export function WouldFollow({ project, edit }: { project: number; edit: Edit | null }) {
  const nothing: Edit = { edit: "set_frames", frames: [], set: {} };
  const { data } = useQuery({ ...editPreview(project, edit ?? nothing), enabled: edit !== null });
  return edit && data?.sound ? <Follows framings={data.value.framings} /> : null;
}
