import { Button } from "react-bootstrap";
import { Key, keysOf } from "../keys/Key";
import { tip } from "../tip";
import { togglePictures, usePictures } from "./picture";

/** Switches between pictures and drawings, on every screen. */
export function PicturesButton({ small }: { small?: boolean }) {
  const shown = usePictures();
  return (
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
  );
}
