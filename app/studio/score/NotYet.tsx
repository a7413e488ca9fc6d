/** The part of the Sweep that is not there yet while the footage is gathered. */
import { isWhole, reachOf } from '~/model/footage';
import { useStudio } from '../state/store';
import type { Axis } from '../axes/lanes';

export function NotYet({ width, height, y }: Axis & { width: number }) {
  const footage = useStudio((s) => s.footage);
  if (isWhole(footage)) return null;
  const top = Math.max(0, y(reachOf(footage)));
  const bottom = Math.min(height, y(footage.facts.duration));
  if (bottom <= top) return null;
  return (
    <g data-testid="not-yet" pointerEvents="none">
      <pattern id="not-yet" width={9} height={9} patternUnits="userSpaceOnUse" patternTransform="rotate(35)">
        <line x1={0} x2={0} y1={0} y2={9} stroke="#fff" strokeOpacity={0.16} strokeWidth={3} />
      </pattern>
      <rect y={top} width={width} height={bottom - top} fill="url(#not-yet)" />
      {bottom - top > 24 && (
        <text x={width / 4} y={(top + bottom) / 2 + 4} textAnchor="middle" fontSize={12} fill="#fff">
          not there yet
        </text>
      )}
    </g>
  );
}
