import { Button } from "react-bootstrap";
import { Link, useParams } from "react-router";
import { Notice } from "../../notices/Notice";
import { useMay } from "../../people/may";
import { useBoard } from "../../shell/ProjectLayout";
import { useEdit } from "../../writes/useEdit";
import { Sphere } from "./Sphere";

/** The sphere in the address: turned, levelled, looked out of. */
export default function SphereScreen() {
  const { project, sources } = useBoard();
  const params = useParams();
  const edit = useEdit(project.id);
  const plans = useMay("plan");
  const source = sources.find(({ id }) => String(id) === params.source);
  const footage = `/projects/${project.id}/footage`;
  if (source?.values.projection === "sphere" && source.picture)
    return <Sphere key={source.id} source={source} />;
  return (
    <main className="page" id="main">
      <Notice role={source ? "status" : "alert"}>
        <span>
          {!source
            ? "This source no longer exists."
            : source.values.projection === "sphere"
              ? `${source.values.name} has no picture yet, so there is nothing to look out of.`
              : `${source.values.name} is set to a flat picture.`}
        </span>
        {plans && source && (
          <Button
            size="sm"
            onClick={() =>
              edit({
                edit: "set_sources",
                sources: [source.id],
                set:
                  source.values.projection === "sphere"
                    ? { still: { scene: "chart", file: "" } }
                    : { projection: "sphere" },
              })
            }
          >
            {source.values.projection === "sphere" ? "Use the test camera" : "Set it to a sphere"}
          </Button>
        )}
        <Link to={source ? `${footage}?source=${source.id}` : footage}>Back to Footage</Link>
      </Notice>
    </main>
  );
}
