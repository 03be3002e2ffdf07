import type { ReactNode } from "react";
import type { Conversion, Exact } from "../../api/client";
import { fraction, short, typed } from "../../drawing/numbers";
import { Figure } from "../../fields/Figure";

type Plan = Conversion["plan"];

/** The same placement in each of the numbers that editing programs ask for. */
export function Dial({ plan }: { plan: Plan }) {
  const { dial, window } = plan;
  return (
    <div>
      <Scale of="percent of native" hint="squeeze set on the clip" axes={dial.native_percent} unit="%" />
      <Scale of="over fit" hint="squeeze set on the clip" axes={dial.over_fit} times />
      <Scale of="over fill" hint="squeeze set on the clip" axes={dial.over_fill} times />
      <Scale of="squeeze not set" hint="over fit" axes={dial.uncorrected} times apart />
      <Row of="centre offset" hint="px right, down">
        <One number={dial.centre_offset.x} name="centre offset right" />
        <One number={dial.centre_offset.y} name="centre offset down" />
      </Row>
      <Row of="top left corner" hint="px right, down">
        <One number={dial.top_left.x} name="top left right" />
        <One number={dial.top_left.y} name="top left down" />
      </Row>
      {window && (
        <>
          <Row of="window from" hint="stored px">
            <One number={window.x} name="window left" />
            <One number={window.y} name="window top" />
          </Row>
          <Row of="window size" hint="stored px">
            <One number={window.width} name="window width" />
            <One number={window.height} name="window height" />
          </Row>
        </>
      )}
    </div>
  );
}

function Row({ of, hint, children }: { of: string; hint: string; children: ReactNode }) {
  return (
    <div className="dial-row">
      <span className="of">
        {of} <small className="d-block">{hint}</small>
      </span>
      {children}
    </div>
  );
}

function One({ number, name, times, unit }: { number: Exact; name: string; times?: boolean; unit?: string }) {
  const shown = `${times ? "× " : ""}${short(number.value, 4)}${unit ? ` ${unit}` : ""}`;
  return <Figure shown={shown} copies={typed(number.value)} name={name} exact={fraction(number)} />;
}

interface ScaleProps {
  of: string;
  hint: string;
  axes: { x: Exact; y: Exact };
  unit?: string;
  times?: boolean;
  /** Show both axes even where they are equal. */
  apart?: boolean;
}

function Scale({ of, hint, axes, unit, times, apart }: ScaleProps) {
  const both = apart || axes.x.exact !== axes.y.exact;
  return (
    <Row of={of} hint={both ? `${hint}; across, up` : hint}>
      {both ? <One number={axes.x} name={`${of}, across`} times={times} unit={unit} /> : <span />}
      <One number={axes.y} name={both ? `${of}, up` : of} times={times} unit={unit} />
    </Row>
  );
}
