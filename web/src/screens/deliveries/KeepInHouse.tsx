import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { api, type Frame, Refused, settled, wrongAt } from "../../api/client";
import { libraryQuery } from "../../api/queries";
import { count } from "../../drawing/numbers";
import { Field } from "../../fields/Field";
import { useNotices } from "../../notices/notices";
import { For } from "../../people/may";
import { useOnce } from "../../writes/useOnce";

/** Keeps frames of a project in the library of the house. */
export function KeepInHouse({ frames }: { frames: readonly Frame[] }) {
  const client = useQueryClient();
  const { tell, tellFailure } = useNotices();
  const [group, setGroup] = useState("House");
  const [wrong, setWrong] = useState<string>();
  const { run: keep, pending } = useOnce(async () => {
    try {
      for (const { values } of frames) {
        await settled(api.POST("/api/v1/library/frames", { body: { group, frame: values } }));
      }
      tell(`${count(frames.length, "frame")} saved to the library under ${group.trim()}.`);
    } catch (error) {
      if (error instanceof Refused && error.problem.status === 422)
        setWrong(wrongAt(error.problem, "/group"));
      else tellFailure("Not saved", error);
    }
    await client.invalidateQueries({ queryKey: libraryQuery.queryKey });
  });
  return (
    <For may="house">
      <fieldset className="tools" aria-label="House library">
        <h3>For other projects</h3>
        <div className="tool-row">
          <Field
            label="heading in the library"
            value={group}
            wrong={wrong}
            onText={(text) => {
              setGroup(text);
              setWrong(undefined);
            }}
            onEnter={keep}
          />
          <Button size="sm" aria-disabled={pending} onClick={keep}>
            Save {frames.length === 1 ? "to library" : count(frames.length, "frame")}
          </Button>
        </div>
      </fieldset>
    </For>
  );
}
