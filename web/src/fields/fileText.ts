/** The text of a file: UTF-8, or UTF-16 where its mark says so. */
export async function fileText(file: Blob): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  const mark =
    bytes[0] === 0xff && bytes[1] === 0xfe
      ? "utf-16le"
      : bytes[0] === 0xfe && bytes[1] === 0xff
        ? "utf-16be"
        : "utf-8";
  return new TextDecoder(mark).decode(bytes);
}
