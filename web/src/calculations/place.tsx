import { asNumber, short } from "../drawing/numbers";
import { calculation, pair, sizeFields, text } from "./calculation";
import { OnSphere } from "./drawn";
import { frameLine, plainLine } from "./lines";

export const place = calculation({
  id: "place",
  name: "Picture on a sphere",
  asks: "60° wide on 5.7K: how many pixels?",
  kind: "sphere_place",
  fields: [
    ...sizeFields("w", "h", "eye", ["5760", "2880"], "/eye"),
    ...sizeFields("pw", "ph", "picture", ["1920", "1080"], "/picture"),
    { key: "degrees", label: "width on the sphere", first: "60", unit: "°", at: ["/width_degrees"] },
    { key: "longitude", label: "longitude", first: "0", unit: "°", at: ["/longitude"] },
    { key: "latitude", label: "latitude", first: "0", unit: "°", at: ["/latitude"] },
    { key: "roll", label: "roll, clockwise", first: "0", unit: "°", at: ["/roll"] },
  ],
  request: (of) => ({
    eye: pair(of, "w", "h"),
    picture: pair(of, "pw", "ph"),
    width_degrees: text(of, "degrees"),
    longitude: text(of, "longitude"),
    latitude: text(of, "latitude"),
    roll: text(of, "roll"),
  }),
  lines: (result) => [
    {
      ...plainLine("picture width for 1:1", `${short(result.picture_width_for_native, 1)} px`),
      main: true,
    },
    plainLine("sphere pixels for each of its pixels, in its middle", short(result.picture_scale, 4)),
    plainLine("height on the sphere", `${short(result.height_degrees, 3)}°`),
    plainLine("stands off, in its own widths", short(result.distance, 4)),
    frameLine("sphere pixels around it", [result.bounds.width, result.bounds.height]),
    plainLine("first column, line", `${result.bounds.x}, ${result.bounds.y}`),
    plainLine("crosses the seam or holds a pole", result.wraps ? "yes" : "no"),
  ],
  drawing: ({ entries, result, into }) => (
    <OnSphere
      outline={result.outline}
      centre={[asNumber(entries.longitude), asNumber(entries.latitude)]}
      into={into}
    />
  ),
  reason: "Pixels at the edges of a flat picture span smaller angles than those in the middle.",
});
