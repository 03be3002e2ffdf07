import { short } from "../drawing/numbers";
import { asFrame, box, calculation, pair, sides, sidesOf, sizeFields, text } from "./calculation";
import { One } from "./drawn";
import { numberLine, plainLine } from "./lines";

export const bits = calculation({
  id: "bits",
  name: "File size",
  asks: "90 s at 12 Mbit/s: how big?",
  kind: "weight",
  fields: [
    ...sizeFields("w", "h", "frame", ["1920", "1080"], "/frame"),
    { key: "rate", label: "frame rate", first: "25", unit: "fps", at: ["/rate"] },
    { key: "seconds", label: "running time", first: "90", unit: "s", at: ["/seconds"] },
    { key: "video", label: "picture", first: "12", unit: "Mbit/s", at: ["/video_mbps"] },
    { key: "audio", label: "sound", first: "192", unit: "kbit/s", at: ["/audio_kbps"] },
  ],
  request: (of) => ({
    frame: pair(of, "w", "h"),
    rate: text(of, "rate"),
    seconds: text(of, "seconds"),
    video_mbps: text(of, "video"),
    audio_kbps: text(of, "audio"),
  }),
  lines: ({ bytes, bits_per_pixel }) => [
    plainLine(
      "file size",
      bytes >= 1e9 ? `${short(bytes / 1e9, 3)} GB` : `${short(bytes / 1e6, 3)} MB`,
      true,
    ),
    plainLine("bytes", String(bytes)),
    numberLine("bits for each pixel", bits_per_pixel),
  ],
  drawing: ({ entries, into }) => <One box={box(entries)} into={into} />,
  part: (of) => asFrame(pair(of, "w", "h"), sides(of).join("x"), { rate: text(of, "rate") }),
  reason: "Mega is 10⁶, kilo 10³; bytes are rounded up.",
  entriesFor: ({ frame, rate, seconds, video_mbps, audio_kbps }) => ({
    ...sidesOf(frame),
    rate,
    seconds,
    video: video_mbps,
    audio: audio_kbps,
  }),
});
