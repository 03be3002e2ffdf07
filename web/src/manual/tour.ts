/** The first five minutes on the demo: where each step is, and what there is to see and do. */
export interface Step {
  title: string;
  /** The screen, below the address of the project: its first source and frame stand for those named here. */
  path: string;
  text: string;
}

export const TOUR: readonly Step[] = [
  {
    title: "The board",
    path: "/board",
    text: "Every source against every frame. Red hatching is cut away, dark is bars. Move with the arrow keys and look at the marks in the corners: a triangle is worth a look, a filled square blocks delivery.",
  },
  {
    title: "Change a method",
    path: "/board",
    text: "Press L to fill, T to fit, F to follow the default again. Select a row or a column beyond the first and change all of it. U takes anything back.",
  },
  {
    title: "Open points",
    path: "/board/points",
    text: "Each cause stands here once, with all that have it. Open one: what would help is drawn before it is done.",
  },
  {
    title: "Framing",
    path: "/board/SOURCE/FRAME",
    text: "Drag the picture or the window on the source. Type this shows the numbers for your program; type into any of them and the picture follows.",
  },
  {
    title: "Footage",
    path: "/footage?source=SOURCE",
    text: "What the lens and the camera did stands with the source. Change the squeeze, press Enter, and look at the board again: all conversions follow.",
  },
  {
    title: "Hand-off",
    path: "/handoff",
    text: "Choose who gets what: sheets, tables, framing lists, recipes. The files are listed before they are made; what blocks them is fixed or accepted first.",
  },
  {
    title: "A question without a project",
    path: "",
    text: "Press / anywhere and type a question, such as 2.39 from UHD. The slide rule lays the answer out. Help is behind ? on every screen. That is all.",
  },
];
