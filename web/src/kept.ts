/**
 * What a browser keeps from visit to visit, or for one window. A browser that keeps nothing, or keeps
 * what is no longer understood, gives what stands first.
 */
export function kept<T>(
  storage: () => Storage,
  key: string,
  first: T,
  isSound: (value: unknown) => value is T,
): T {
  try {
    const value: unknown = JSON.parse(storage().getItem(key) ?? "null");
    return isSound(value) ? value : first;
  } catch {
    return first;
  }
}

export function keep(storage: () => Storage, key: string, value: unknown) {
  try {
    storage().setItem(key, JSON.stringify(value));
  } catch {
    // A browser that keeps nothing still works.
  }
}

export const here = () => localStorage;
export const thisWindow = () => sessionStorage;
