import type { Box } from "./box";

/** Which way the scene stands. */
export function UpArrow({ box, turn }: { box: Box; turn: number }) {
  const size = Math.min(box.width, box.height) * 0.12;
  return (
    <path
      className="d-round"
      transform={`translate(${box.x + box.width / 2} ${box.y + box.height / 2}) rotate(${turn})`}
      d={`M0 ${size}V${-size}M${-size * 0.5} ${-size * 0.4}L0 ${-size}L${size * 0.5} ${-size * 0.4}`}
    />
  );
}
