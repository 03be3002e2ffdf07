import { Button } from "react-bootstrap";
import type { Frame, Source } from "../../api/client";
import { count, rate } from "../../drawing/numbers";
import { tip } from "../../tip";
import { useEdit } from "../../writes/useEdit";
import { useFrameLike } from "../../writes/useFrameLike";

interface Props {
  project: number;
  source: Source;
  frames: Frame[];
}

/** Frames that follow a source: one as its footage is, and all of them at its rate. */
export function FramesFromSource({ project, source, frames }: Props) {
  const edit = useEdit(project);
  const addLike = useFrameLike(project);
  const own = source.values.rate;
  const others = frames.filter(({ values }) => rate(values.rate) !== rate(own));
  return (
    <fieldset className="tools" aria-label="Frames from this source">
      <h3>Frames from this source</h3>
      <div className="tool-row">
        <Button
          size="sm"
          {...tip("Its upright picture in square pixels, with its rate, scan and range")}
          onClick={() => addLike(source)}
        >
          Add frame like this source
        </Button>
        <Button
          size="sm"
          disabled={!own || others.length === 0}
          {...tip(
            own
              ? "Sets the rate of every delivery frame that has another"
              : "This source has no frame rate yet: enter it above",
          )}
          onClick={() =>
            edit({ edit: "set_frames", frames: others.map(({ id }) => id), set: { rate: own ?? null } })
          }
        >
          {own ? `Set ${count(others.length, "frame")} to ${rate(own)} fps` : "Set frames to its rate"}
        </Button>
      </div>
    </fieldset>
  );
}
