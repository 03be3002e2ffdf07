import { short } from "../drawing/numbers";
import { asFrame, calculation, pair, sides, sidesOf, sizeFields, text } from "./calculation";
import { OnSphere } from "./drawn";
import { plainLine } from "./lines";

export const view = calculation({
  id: "view",
  name: "View of a sphere",
  asks: "90° out of 5.7K: how sharp?",
  kind: "sphere_view",
  fields: [
    ...sizeFields("w", "h", "eye", ["5760", "2880"], "/eye"),
    ...sizeFields("vw", "vh", "view", ["1920", "1080"], "/view"),
    { key: "fov", label: "field of view", first: "90", unit: "°", at: ["/fov"] },
    { key: "yaw", label: "yaw, right", first: "0", unit: "°", at: ["/yaw"] },
    { key: "pitch", label: "pitch, up", first: "0", unit: "°", at: ["/pitch"] },
    { key: "roll", label: "roll, clockwise", first: "0", unit: "°", at: ["/roll"] },
  ],
  request: (of) => ({
    eye: pair(of, "w", "h"),
    view: pair(of, "vw", "vh"),
    fov: text(of, "fov"),
    yaw: text(of, "yaw"),
    pitch: text(of, "pitch"),
    roll: text(of, "roll"),
  }),
  lines: (result) => [
    {
      ...plainLine("view pixels for each pixel of the sphere, in the middle", short(result.centre_scale, 4)),
      main: true,
    },
    plainLine("the same at the edge", short(result.edge_scale, 4)),
    plainLine("sphere width for 1:1", `${short(result.width_for_native, 1)} px`),
    plainLine("vertical field of view", `${short(result.vertical_fov, 3)}°`),
    plainLine("centre: longitude, latitude", result.centre.map((each) => `${short(each, 3)}°`).join(", ")),
    plainLine("inside the sphere's span", result.outside ? "not all of it" : "all of it"),
  ],
  drawing: ({ result, into }) => <OnSphere outline={result.outline} centre={result.centre} into={into} />,
  part: (of) =>
    asFrame(sides(of, "vw", "vh"), `View ${sides(of, "vw", "vh").join("x")} of ${text(of, "fov")}°`),
  reason:
    "Above 1 the sphere is enlarged there. A flat view enlarges least in the middle and most at the edges.",
  entriesFor: ({ eye, view, fov }) => ({ ...sidesOf(eye), ...sidesOf(view, "vw", "vh"), fov }),
});
