import { useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { api, settled } from "../../api/client";
import type { HandoffRequest } from "../../api/queries";
import type { components } from "../../api/schema";
import { count } from "../../drawing/numbers";
import { fileText } from "../../fields/fileText";
import { failureText } from "../../notices/notices";

/** A file that was taken, and what came of it. */
interface Taken {
  file: string;
  added?: components["schemas"]["IntoResult"];
  failure?: string;
}

/** Adds what is known to a timeline or a framing list of somebody else, which comes back as a file. */
export function Into({ project, request }: { project: number; request: HandoffRequest }) {
  const [taken, setTaken] = useState<Taken>();
  const input = useRef<HTMLInputElement>(null);
  const add = async (file: File | undefined) => {
    if (!file) return;
    try {
      const added = await settled(
        api.POST("/api/v1/projects/{project}/handoff/into", {
          params: { path: { project } },
          body: { text: await fileText(file), wanted: request },
        }),
      );
      const link = document.createElement("a");
      link.href = URL.createObjectURL(new Blob([added.text], { type: "application/json" }));
      link.download = file.name;
      link.click();
      URL.revokeObjectURL(link.href);
      setTaken({ file: file.name, added });
    } catch (failure) {
      setTaken({ file: file.name, failure: failureText(failure) });
    }
    if (input.current) input.current.value = "";
  };
  return (
    <>
      <p className="quiet">
        Add the placements to a timeline (OpenTimelineIO) or a framing list (ASC) that you already have. Clips
        are matched by file and by name; everything else stays as it is.
      </p>
      <Button size="sm" onClick={() => input.current?.click()}>
        Add to an existing file
      </Button>
      <input
        ref={input}
        type="file"
        hidden
        accept=".otio,.fdl,.json"
        aria-label="A timeline or a framing list"
        onChange={(event) => add(event.target.files?.[0])}
      />
      <div role="status">{taken && <Told taken={taken} />}</div>
    </>
  );
}

function Told({ taken: { file, added, failure } }: { taken: Taken }) {
  if (!added)
    return (
      <p className="wrong">
        {file} was not changed: {failure}
      </p>
    );
  return (
    <>
      <p>
        Added {count(added.placements, "placement")} to {file}.
      </p>
      {added.unmatched.length > 0 && (
        <>
          <p>Left as they were, because no source has their file or name:</p>
          <ul>
            {added.unmatched.map(({ name, nearest }) => (
              <li key={name}>
                {name} {nearest && <small className="quiet">did you mean {nearest}?</small>}
              </li>
            ))}
          </ul>
        </>
      )}
      {added.missing.length > 0 && <p className="quiet">Not in the file: {added.missing.join(", ")}.</p>}
    </>
  );
}
