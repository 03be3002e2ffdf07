/** The words of a search, small. */
export function wordsIn(text: string): string[] {
  return text.toLowerCase().split(/\s+/).filter(Boolean);
}

/** Whether every word stands somewhere in a text. */
export function hasWords(text: string, words: readonly string[]): boolean {
  const small = text.toLowerCase();
  return words.every((word) => small.includes(word));
}
