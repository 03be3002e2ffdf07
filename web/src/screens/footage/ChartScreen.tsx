import { Button } from "react-bootstrap";
import { useParams } from "react-router";
import { PicturesButton } from "../../drawing/PicturesButton";
import { usePictures } from "../../drawing/picture";
import { useRoom } from "../../drawing/useRoom";
import { NoSource } from "../../notices/NoSource";
import { useBoard } from "../../shell/ProjectLayout";
import { ScreenHead } from "../../shell/ScreenHead";

/** What every frame takes of the source in the address, as large as the window: to be held before a camera. */
export default function ChartScreen() {
  const { project, sources, revision } = useBoard();
  const params = useParams();
  const pictures = usePictures();
  const [ref, room] = useRoom<HTMLDivElement>();
  const source = sources.find((each) => String(each.id) === params.source);
  const footage = `/projects/${project.id}/footage`;
  if (!source) return <NoSource footage={footage} />;
  const { name, geometry } = source.values;
  const [width = 1, height = 1] = geometry.raster;
  // A phone that is held upright shows it lying on its side, as large as it goes.
  const turned = width > height !== room.width > room.height;
  const [across, down] = turned ? [room.height, room.width] : [room.width, room.height];
  const scale = Math.min(across / width, down / height);
  const chart = `/api/v1/projects/${project.id}/sources/${source.id}/chart?pictures=${pictures && Boolean(source.picture)}`;
  return (
    <main className="page chart-page" id="main">
      <ScreenHead
        title="Camera chart"
        window={`Camera chart of ${name}`}
        up={{ to: `${footage}?source=${source.id}`, name }}
      >
        <PicturesButton />
        <Button onClick={() => void ref.current?.requestFullscreen()}>Full screen</Button>
      </ScreenHead>
      <div className="chart-stage" ref={ref}>
        {/* Drawn anew by the server whenever anything of the plan has changed. */}
        <img
          key={revision}
          src={chart}
          alt={`Camera chart of ${name}: the windows of all frames on its stored raster`}
          style={{
            width: width * scale,
            height: height * scale,
            transform: turned ? "rotate(90deg)" : undefined,
          }}
        />
      </div>
    </main>
  );
}
