/** Lines over a picture that help to frame it: thirds, the centre, and what feeds lay over tall and square clips. */
import { aspectRatio } from '@glimbo/core/lens/format';
import { safeOf } from '@glimbo/core/lens/safe';
import { useStudio } from '../state/store';

export function Guides({ width, height, aspect }: { width: number; height: number; aspect: string }) {
  const guides = useStudio((s) => s.guides);
  if (!guides.length || !width) return null;
  const safe = safeOf(aspectRatio(aspect));
  const line = { fill: 'none', stroke: '#fff', strokeOpacity: 0.75, strokeWidth: 1 } as const;
  return (
    <svg width={width} height={height} className="absolute inset-0" aria-hidden data-testid="guides">
      <g style={{ filter: 'drop-shadow(0 0 1px #000)' }}>
        {guides.includes('thirds') &&
          [1 / 3, 2 / 3].map((t) => (
            <path key={t} d={`M${t * width} 0V${height}M0 ${t * height}H${width}`} {...line} strokeOpacity={0.5} />
          ))}
        {guides.includes('centre') && (
          <path d={`M${width / 2 - 12} ${height / 2}h24M${width / 2} ${height / 2 - 12}v24`} {...line} />
        )}
        {guides.includes('safe') && (
          <rect
            x={safe.side * width}
            y={safe.top * height}
            width={(1 - 2 * safe.side) * width}
            height={(1 - safe.top - safe.bottom) * height}
            {...line}
            strokeDasharray="6 4"
          />
        )}
      </g>
    </svg>
  );
}
