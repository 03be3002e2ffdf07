/** How people write numbers, in every field alike and as lists are read. */

/** A number with a decimal point or comma, alone or over another, with a unit or without. */
const NUMBER =
  /^(-?\d+(?:[.,]\d+)?(?:[/:]\d+(?:[.,]\d+)?)?)\s*(?:[x×%°]|px|pixels?|lines?|p|fps|deg|mbps|kbps|s|sec)?$/i;

/** Thousands apart by commas; only whole pixels are as large as that. */
const THOUSANDS = /^\d{1,3}(,\d{3})+$/;

/** The number that is meant, as the server reads it; other text as it is, so that the server can say what is right. */
export function plainNumber(text: string, unit?: string): string {
  const [, number] = NUMBER.exec(text.trim()) ?? [];
  if (number === undefined) return text;
  if (unit === "px" && THOUSANDS.test(number)) return number.replaceAll(",", "");
  return number.replaceAll(",", ".");
}

/** Names of widths; those of cinema containers are SMPTE ST 428-1 and its multiples (common practice). */
const WIDTHS: Record<string, [number: string, of: string][]> = {
  hd: [["1920", "HD"]],
  uhd: [["3840", "UHD"]],
  "2k": [
    ["2048", "cinema"],
    ["1920", "HD"],
  ],
  "4k": [
    ["3840", "UHD"],
    ["4096", "cinema"],
  ],
  "8k": [
    ["7680", "UHD"],
    ["8192", "cinema"],
  ],
};

/** What a refused value may mean: a name of a width, each of its meanings. */
export function meanings(text: string): { value: string; says: string }[] {
  const named = WIDTHS[text.trim().toLowerCase()] ?? [];
  return named.map(([value, of]) => ({ value, says: `${value}, ${of}` }));
}
