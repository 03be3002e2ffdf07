import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { api, Refused, type Source, settled, wrongAt } from "../../api/client";
import { mediaQuery, refreshProject } from "../../api/queries";
import { Field } from "../../fields/Field";
import { failureText, useNotices } from "../../notices/notices";
import { useWrite } from "../../writes/useWrite";

/** A still out of the server's media folder: a picture, or an exact frame of a movie. */
export function FromMedia({ project, source }: { project: number; source: Source }) {
  const client = useQueryClient();
  const write = useWrite(["project", project]);
  const { tell } = useNotices();
  const { data: media } = useQuery({ ...mediaQuery(""), retry: false });
  const [path, setPath] = useState(source.values.origin?.file ?? "");
  const [at, setAt] = useState("00:00:00:00");
  const [refused, setRefused] = useState<Refused>();
  const [working, setWorking] = useState(false);
  const stop = useRef<AbortController>(undefined);
  if (!media) return null;
  const take = async () => {
    stop.current = new AbortController();
    setWorking(true);
    setRefused(undefined);
    try {
      const { signal } = stop.current;
      await write(async () => {
        await settled(
          api.POST("/api/v1/projects/{project}/sources/{source}/still/media", {
            signal,
            params: { path: { project, source: source.id } },
            body: { path, at },
          }),
        );
        await refreshProject(client, project);
      });
    } catch (error) {
      if (stop.current.signal.aborted) tell("Stopped. The picture is as it was.");
      else if (error instanceof Refused && error.problem.errors?.length) setRefused(error);
      else tell(`No still from ${path}: ${failureText(error)}`);
    }
    setWorking(false);
  };
  return (
    <fieldset className="from-media" aria-label="From the media folder">
      <div className="fields">
        <Field
          className="wide"
          label="file in the media folder"
          value={path}
          wrong={wrongAt(refused?.problem, "/path")}
          onText={setPath}
          onEnter={take}
        />
        <Field
          label="frame at"
          value={at}
          wrong={wrongAt(refused?.problem, "/at")}
          onText={setAt}
          onEnter={take}
        />
      </div>
      {working ? (
        <p className="reading-progress">
          <progress aria-label="Taking the frame" /> <span>Taking the frame …</span>{" "}
          <Button size="sm" onClick={() => stop.current?.abort()}>
            Stop
          </Button>
        </p>
      ) : (
        <Button size="sm" disabled={path.trim() === ""} onClick={take}>
          Take still
        </Button>
      )}
    </fieldset>
  );
}
