import { Button } from "react-bootstrap";
import { Link } from "react-router";
import type { Source } from "../../api/client";
import { Notice } from "../../notices/Notice";
import { For } from "../../people/may";
import { useEdit } from "../../writes/useEdit";

interface Props {
  project: number;
  source: Source;
  /** Where else one could go. */
  back: { to: string; name: string };
}

/** Where there is nothing to carry out: what would help. */
export function NoPicture({ project, source, back }: Props) {
  const edit = useEdit(project);
  return (
    <main className="page" id="main">
      <Notice>
        <span>
          {source.values.name} has no picture yet, so there is nothing to carry out. Choose a still in{" "}
          <Link to={`/projects/${project}/footage?source=${source.id}`}>Footage</Link>, or take the chart of
          the test camera.
        </span>
        <For may="plan">
          <Button
            size="sm"
            onClick={() =>
              edit({
                edit: "set_sources",
                sources: [source.id],
                set: { still: { scene: "chart", file: "" } },
              })
            }
          >
            Use the chart
          </Button>
        </For>
        <Link to={back.to}>{back.name}</Link>
      </Notice>
    </main>
  );
}
