import type { Box } from "../../drawing/box";

const MARGIN = { left: 46, top: 34, right: 50, bottom: 50 };

/** The room of a drawing without that of its measures. */
export function inside({ width, height }: { width: number; height: number }): Box {
  return {
    x: MARGIN.left,
    y: MARGIN.top,
    width: Math.max(40, width - MARGIN.left - MARGIN.right),
    height: Math.max(40, height - MARGIN.top - MARGIN.bottom),
  };
}
