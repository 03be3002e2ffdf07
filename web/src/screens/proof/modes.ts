/** The ways in which two pictures are compared. */
export const MODES = ["Slider", "Side by side", "Switch", "Difference"] as const;
export type Mode = (typeof MODES)[number];
