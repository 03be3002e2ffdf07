/** How much larger letters are than usual, as the browser is set. */
const LARGER =
  typeof document === "undefined"
    ? 1
    : Number.parseFloat(getComputedStyle(document.documentElement).fontSize) / 16 || 1;

/** A length of usual letters, in pixels: what holds text grows with it. */
export const inLetters = (pixels: number) => Math.round(pixels * LARGER);
