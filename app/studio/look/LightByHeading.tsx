/** Brightness by heading, on the Map's own axis, for the whole sphere at the playhead: where the sun is and where the shade. */
import { area, line, scaleLinear } from 'd3';
import { useEffect, useState } from 'react';
import { transpose } from '@glimbo/core/geometry/rotation';
import { equirectangularOf } from '@glimbo/core/geometry/sphere';
import { wrapHeading } from '@glimbo/core/geometry/rotation';
import { lightByHeading, type HeadingLight } from '@glimbo/core/look/scopes';
import { anglesIn } from '@glimbo/core/view/view-of';
import { samplerOf } from '~/preview/small-frame';
import { headingAt } from '~/ui/chart';
import { usePicture } from '../picture/picture';
import { useCorrection, useStillTime, useTake, useView } from '../state/store';

const HEIGHT = 46;
const HEADINGS = 90;
const CALM = 150;

function useHeadings(): HeadingLight[] {
  const picture = usePicture();
  const correction = useCorrection();
  const time = useStillTime();
  const [headings, setHeadings] = useState<HeadingLight[]>([]);
  useEffect(() => {
    if (time === null) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const forget = picture.listen((shown) => {
      clearTimeout(timer);
      timer = setTimeout(() => {
        const sample = samplerOf(shown);
        if (!sample) return;
        const at = (d: Parameters<typeof equirectangularOf>[0]) => {
          const { u, v } = equirectangularOf(d, 1, 1);
          return sample(u, v);
        };
        setHeadings(lightByHeading(at, transpose(correction.at(time)), HEADINGS));
      }, CALM);
    });
    return () => {
      clearTimeout(timer);
      forget();
    };
  }, [picture, correction, time]);
  return headings;
}

export function LightByHeading({ width }: { width: number }) {
  const headings = useHeadings();
  const take = useTake();
  const view = useView();
  const half = Math.min(180, anglesIn(take, view).horizontal / 2);
  const y = scaleLinear([0, 1], [HEIGHT - 2, 3]);
  const x = (d: HeadingLight) => headingAt(d.heading, width);
  const band = area<HeadingLight>()
    .x(x)
    .y0((d) => y(d.dark))
    .y1((d) => y(d.light));
  const mean = line<HeadingLight>()
    .x(x)
    .y((d) => y(d.mean));
  const middle = wrapHeading(view.pan);
  const lightest = headings.reduce<HeadingLight | null>((a, b) => (a && a.mean >= b.mean ? a : b), null);
  const covered = [-360, 0, 360].map((by) => [
    headingAt(middle - half + by, width),
    headingAt(middle + half + by, width),
  ]);
  return (
    <svg
      width={width}
      height={HEIGHT}
      role="img"
      aria-label={`Brightness by heading${lightest ? `: lightest at ${Math.round(lightest.heading)}°, what the Frame covers is marked` : ''}`}
      data-testid="light-by-heading"
      className="bg-sheet"
    >
      {covered.map(([a, b], i) => (
        <rect key={i} x={a} width={Math.max(0, b! - a!)} y={0} height={HEIGHT} fill="var(--camera)" opacity={0.14} />
      ))}
      <path d={band(headings) ?? ''} fill="var(--edge)" opacity={0.35} />
      <path d={mean(headings) ?? ''} fill="none" stroke="var(--ink)" strokeWidth={1.6} />
    </svg>
  );
}
