/** How loud it is at each moment, as a lane. */
import { useEffect, useMemo, useState } from 'react';
import { extremes, framesOfRow } from '@glimbo/core/sweep/rows';
import { useStudio } from '../state/store';
import { LANE_WIDTH, type Axis } from './lanes';

/** Loudness of each frame, 0…255; null until it has come, or if there is no sound. */
function useLoudness(): Uint8Array | null {
  const { id, version, gathered } = useStudio((s) => s.footage);
  const [loudness, setLoudness] = useState<Uint8Array | null>(null);
  const has = gathered?.sound ?? false;
  useEffect(() => {
    if (!has) return;
    const stop = new AbortController();
    fetch(`/media/footage/${id}/sound.u8?v=${version}`, { signal: stop.signal })
      .then(async (r) => r.ok && setLoudness(new Uint8Array(await r.arrayBuffer())))
      .catch(() => {});
    return () => stop.abort();
  }, [id, version, has]);
  return loudness;
}

export function SoundLane({ height, timeAt }: Axis) {
  const loudness = useLoudness();
  const rate = useStudio((s) => s.footage.facts.rate);
  const has = useStudio((s) => s.footage.gathered?.sound ?? false);
  const shape = useMemo(() => {
    if (!loudness) return '';
    const middle = LANE_WIDTH / 2;
    const wide: number[] = [];
    for (let py = 0; py < height; py++) {
      const [, most] = extremes(loudness, framesOfRow({ rate, timeAt }, loudness.length, py));
      wide.push((most / 255) * (middle - 8));
    }
    const right = wide.map((w, py) => `${(middle + w).toFixed(1)} ${py}`);
    const left = wide.map((w, py) => `${(middle - w).toFixed(1)} ${py}`).reverse();
    return `M${[...right, ...left].join('L')}Z`;
  }, [loudness, height, timeAt, rate]);
  if (!has)
    return (
      <text x={LANE_WIDTH / 2} y={24} textAnchor="middle" fill="var(--muted)" fontSize={12}>
        no sound
      </text>
    );
  return <path d={shape} fill="var(--edge)" data-testid="sound-shape" pointerEvents="none" />;
}
