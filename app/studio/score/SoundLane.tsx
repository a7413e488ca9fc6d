/** How loud it is at each moment, as a lane, with the beats of what is heard as ticks. */
import { useEffect, useMemo, useState } from 'react';
import type { BeatsFile } from '@glimbo/core/sound/beats';
import { extremes, framesOfRow } from '@glimbo/core/sweep/rows';
import { useStudio, useStudioStore } from '../state/store';
import { LANE_WIDTH, type Axis } from '../axes/lanes';

/** Pixels between two beats below which they are not drawn. */
const CLOSEST = 4;

/** What gathering made of the footage's sound; null until it has come, or if there is none. */
function useOfSound<T>(file: string, read: (response: Response) => Promise<T>): T | null {
  const { id, version, gathered } = useStudio((s) => s.footage);
  const [made, setMade] = useState<T | null>(null);
  const has = gathered?.sound ?? false;
  useEffect(() => {
    if (!has) return;
    const stop = new AbortController();
    fetch(`/media/footage/${id}/${file}?v=${version}`, { signal: stop.signal })
      .then(async (r) => r.ok && setMade(await read(r)))
      .catch(() => {});
    return () => stop.abort();
  }, [id, version, has, file, read]);
  return made;
}

const bytes = async (response: Response) => new Uint8Array(await response.arrayBuffer());
const beatsFile = async (response: Response) => (await response.json()) as BeatsFile;

/** The beats of the footage's sound; dragged keyframes catch on them as long as they are seen. */
function useBeats(): BeatsFile | null {
  const store = useStudioStore();
  const file = useOfSound('beats.json', beatsFile);
  useEffect(() => {
    store.getState().showBeats(file?.beats ?? []);
    return () => store.getState().showBeats([]);
  }, [store, file]);
  return file;
}

export function SoundLane({ height, y, timeAt }: Axis) {
  const loudness = useOfSound('sound.u8', bytes);
  const { beats, tempo } = useBeats() ?? { beats: [], tempo: null };
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
  const seen = beats.filter((t) => y(t) >= 0 && y(t) <= height);
  const apart = tempo ? y(60 / tempo) - y(0) : 0;
  return (
    <>
      <path d={shape} fill="var(--edge)" data-testid="sound-shape" pointerEvents="none" />
      {tempo !== null && apart >= CLOSEST && (
        <g stroke="var(--ink)" data-testid="beats">
          <title>{`Beats, ${Math.round(tempo)} a minute: keyframes that are dragged catch on them`}</title>
          {seen.map((t) => (
            <line key={t} x1={0} x2={9} y1={y(t)} y2={y(t)} />
          ))}
        </g>
      )}
      {tempo !== null && (
        <text
          x={LANE_WIDTH - 4}
          y={height - 6}
          textAnchor="end"
          className="figure"
          fill="var(--ink)"
          stroke="var(--sheet)"
          strokeWidth={4}
          paintOrder="stroke"
          fontSize={10}
        >
          {Math.round(tempo)} beats/min
        </text>
      )}
    </>
  );
}
