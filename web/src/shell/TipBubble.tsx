import { Overlay, Tooltip } from "react-bootstrap";

/** A hint beside its element; the element itself reads it out. */
export default function TipBubble({ target, says }: { target: HTMLElement; says: string }) {
  return (
    <Overlay target={target} show placement="bottom" transition={false}>
      {({ placement = "bottom", ...props }) => (
        <Tooltip {...props} placement={placement} aria-hidden="true">
          {says}
        </Tooltip>
      )}
    </Overlay>
  );
}
