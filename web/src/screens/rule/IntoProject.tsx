import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Button, Modal } from "react-bootstrap";
import { Link } from "react-router";
import type { Board } from "../../api/client";
import { boardQuery } from "../../api/queries";
import type { Calculation, Entries, Framing } from "../../calculations";
import { raster } from "../../drawing/numbers";
import { Choice, whole } from "../../fields/Field";
import { Notice } from "../../notices/Notice";
import { failureText } from "../../notices/notices";
import { useMay } from "../../people/may";
import { lastProject } from "../../shell/lastProject";
import { tip } from "../../tip";
import { useEdit } from "../../writes/useEdit";

/** Makes a source, a frame or a framing of an answer, in the project that was open last. */
export function IntoProject(props: {
  calculation: Calculation;
  entries: Entries | undefined;
  result: Parameters<Calculation["lines"]>[0] | undefined;
}) {
  const project = lastProject();
  const edit = useEdit(project?.id ?? 0);
  const plans = useMay("plan");
  const [open, setOpen] = useState(false);
  const made = props.entries && props.result && props.calculation.part(props.entries, props.result);
  if (!plans || !project || !made) return null;
  return (
    <>
      <Button
        size="sm"
        {...tip(made.as === "framing" ? `Frame a conversion of ${project.name}` : `Add to ${project.name}`)}
        onClick={() => (made.as === "framing" ? setOpen(true) : edit(made.edit))}
      >
        Add as {made.as}
      </Button>
      {open && made.as === "framing" && (
        <WhichConversion project={project.id} framing={made} onHide={() => setOpen(false)} />
      )}
    </>
  );
}

interface Which {
  project: number;
  framing: Framing;
  onHide: () => void;
}

/** Asks which conversion of the project is framed like the answer. */
function WhichConversion({ project, framing, onHide }: Which) {
  const { data: board, error } = useQuery(boardQuery(project));
  return (
    <Modal show onHide={onHide} aria-labelledby="which">
      <Modal.Header closeButton closeLabel="Close">
        <Modal.Title as="h2" id="which">
          {framing.says}: which conversion?
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {error && <Notice slim>{failureText(error)}</Notice>}
        {board && (board.sources.length === 0 || board.frames.length === 0) && (
          <p>This project has no conversions yet: it needs a source and a frame.</p>
        )}
        {board && board.sources.length > 0 && board.frames.length > 0 && (
          <Pick board={board} framing={framing} onHide={onHide} />
        )}
      </Modal.Body>
    </Modal>
  );
}

/** The first of the same size, or else the first. */
function alike(all: Board["sources"] | Board["frames"], [width, height]: [string, string]): string {
  const same = all.find(({ values: { geometry } }) => {
    const [across, down] = geometry.raster;
    return across === whole(width) && down === whole(height);
  });
  return String((same ?? all[0])?.id ?? "");
}

function Pick({ board, framing, onHide }: { board: Board; framing: Framing; onHide: () => void }) {
  const edit = useEdit(board.project.id);
  const [source, setSource] = useState(() => alike(board.sources, framing.source));
  const [frame, setFrame] = useState(() => alike(board.frames, framing.frame));
  const options = (all: Board["sources"] | Board["frames"]) =>
    all.map(
      ({ id, values }) =>
        [String(id), `${values.name}, ${raster(values.geometry.raster)}`] as [string, string],
    );
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const conversions = [[Number(source), Number(frame)]];
    const { done } = await edit({ edit: "set_framing_parts", conversions, set: framing.set });
    if (done) onHide();
  };
  return (
    <form className="which" onSubmit={submit}>
      <Choice label="source" value={source} options={options(board.sources)} onChoose={setSource} />
      <Choice label="frame" value={frame} options={options(board.frames)} onChoose={setFrame} />
      <div className="end">
        <Link
          className="btn btn-sm btn-primary"
          to={`/projects/${board.project.id}/board/${source}/${frame}`}
        >
          Open framing
        </Link>
        <Button size="sm" variant="primary" type="submit">
          Apply framing
        </Button>
      </div>
    </form>
  );
}
