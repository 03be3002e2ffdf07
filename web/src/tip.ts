/** A hint of an element: shown when it is pointed at or focused, read out with it. */
export const tip = (says: string | undefined) => (says ? { "data-tip": says, "aria-description": says } : {});
