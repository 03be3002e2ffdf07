import { Button } from "react-bootstrap";
import { Key, keysOf } from "../keys/Key";
import { tip } from "../tip";
import { count } from "./numbers";
import { togglePictures, usePictures, usePicturesComing } from "./picture";

/** Switches between pictures and drawings, on every screen. */
export function PicturesButton({ small }: { small?: boolean }) {
  const shown = usePictures();
  const coming = usePicturesComing();
  return (
    <>
      {coming > 3 && (
        <small className="quiet" role="status">
          {count(coming, "picture")} to come
        </small>
      )}
      <Button
        {...(small ? { size: "sm" as const } : {})}
        active={shown}
        aria-pressed={shown}
        onClick={togglePictures}
        {...keysOf("pictures")}
        {...tip("Show the pictures of sources in every drawing, or the drawings alone")}
      >
        Pictures <Key of="pictures" />
      </Button>
    </>
  );
}
