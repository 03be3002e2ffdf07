/** How much of a file tells how it is written. */
const SAMPLE = 4096;

/** The text of a file: UTF-8, UTF-16 with and without its mark, else Windows-1252, as older spreadsheets write. */
export async function fileText(file: Blob): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  return new TextDecoder(encoding(bytes)).decode(bytes);
}

function encoding(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return "utf-16le";
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return "utf-16be";
  // Plain letters have a zero byte each in UTF-16; other text has none at all.
  const sample = bytes.subarray(0, SAMPLE);
  const zeros = (from: number) => sample.filter((byte, at) => byte === 0 && at % 2 === from).length;
  if (zeros(1) * 4 > sample.length && zeros(1) > zeros(0)) return "utf-16le";
  if (zeros(0) * 4 > sample.length && zeros(0) > zeros(1)) return "utf-16be";
  try {
    new TextDecoder("utf-8", { fatal: true }).decode(bytes);
    return "utf-8";
  } catch {
    return "windows-1252";
  }
}
