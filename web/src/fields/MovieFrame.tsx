import { useEffect, useRef, useState } from "react";
import { Button } from "react-bootstrap";
import type { Source } from "../api/client";
import { raster } from "../drawing/numbers";
import { Notice } from "../notices/Notice";

interface Props {
  movie: File;
  /** What the movie is, where that is known: its frame is brought back to how that is stored. */
  source?: Source;
  onTake: (still: File) => void;
  onClose: () => void;
}

/** A movie opened in the browser: one of its frames becomes a still. */
export function MovieFrame({ movie, source, onTake, onClose }: Props) {
  const video = useRef<HTMLVideoElement>(null);
  const [href, setHref] = useState<string>();
  const [length, setLength] = useState<number>();
  const [at, setAt] = useState(0);
  const [wrong, setWrong] = useState(false);
  useEffect(() => {
    const made = URL.createObjectURL(movie);
    setHref(made);
    setWrong(false);
    return () => URL.revokeObjectURL(made);
  }, [movie]);
  const seek = (seconds: number) => {
    setAt(seconds);
    if (video.current) video.current.currentTime = seconds;
  };
  const rate = Number(source?.values.rate) || 25;
  const take = () => {
    const shown = video.current;
    if (!shown) return;
    const canvas = storedFrame(shown, source);
    const name = `${movie.name} at ${at.toFixed(3)} s.png`;
    canvas?.toBlob((blob) => blob && onTake(new File([blob], name, { type: "image/png" })), "image/png");
  };
  return (
    <fieldset className="movie-frame" aria-label={`A frame of ${movie.name}`}>
      {wrong ? (
        <Notice slim role="alert">
          {movie.name} does not play in this browser. Put it in the server's media folder and take the frame
          there, or save a still from it.
        </Notice>
      ) : (
        <>
          <video
            ref={video}
            src={href}
            muted
            playsInline
            preload="auto"
            onError={() => setWrong(true)}
            onLoadedMetadata={({ currentTarget }) => setLength(currentTarget.duration)}
          />
          <label>
            frame at{" "}
            <input
              type="range"
              aria-label="Moment"
              min={0}
              max={length ?? 0}
              step={1 / rate}
              value={at}
              disabled={length === undefined}
              onChange={({ target }) => seek(Number(target.value))}
            />{" "}
            <span className="num">{at.toFixed(3)} s</span>
          </label>
          <p className="quiet small mb-1">
            Eight bit, as the browser shows it
            {source ? `, brought back to ${raster(source.values.geometry.raster)} as stored` : ""}.
          </p>
        </>
      )}
      <Button size="sm" variant="ink" disabled={wrong || length === undefined} onClick={take}>
        Use this frame
      </Button>{" "}
      <Button size="sm" onClick={onClose}>
        Close
      </Button>
    </fieldset>
  );
}

/** What a browser shows, upright and in its true shape: so, or as a source would have stored it. */
function storedFrame(shown: HTMLVideoElement, source: Source | undefined): HTMLCanvasElement | undefined {
  const asShown = { raster: [shown.videoWidth, shown.videoHeight], rotation: 0 };
  const { raster: size, rotation } = source?.values.geometry ?? asShown;
  const [width = 1, height = 1] = size;
  const canvas = document.createElement("canvas");
  canvas.width = width;
  canvas.height = height;
  const context = canvas.getContext("2d");
  if (!context || shown.videoWidth === 0) return undefined;
  const turned = rotation === 90 || rotation === 270;
  const [across, down] = turned ? [height, width] : [width, height];
  context.imageSmoothingQuality = "high";
  context.translate(width / 2, height / 2);
  context.rotate((-rotation * Math.PI) / 180);
  context.drawImage(shown, -across / 2, -down / 2, across, down);
  return canvas;
}
