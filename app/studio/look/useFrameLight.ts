/** The light of the Frame as it is looked at: brightnesses of a small picture, and how often each is. */
import { useEffect, useState } from 'react';
import { vec3 } from '@glimbo/core/geometry/rotation';
import { histogramOf, lumaOf } from '@glimbo/core/look/scopes';
import { mapOf, treatmentAt } from '@glimbo/core/look/treatment';
import type { SmallFrame } from '~/preview/small-frame';
import { useStudio, useTake } from '../state/store';
import { cubesHere } from './materials';
import { useSmallFrame } from './useSmallFrame';

const BINS = 64;

export interface FrameLight {
  width: number;
  /** Luma, 0 to 1, rows first. */
  lumas: Float32Array;
  histogram: number[];
}

function lightOf({ width, height, pixels }: SmallFrame, map: ReturnType<typeof mapOf>): FrameLight {
  const lumas = new Float32Array(width * height);
  for (let i = 0; i < lumas.length; i++) lumas[i] = lumaOf(map(vec3(pixels.subarray(3 * i, 3 * i + 3))));
  return { width, lumas, histogram: histogramOf(lumas, BINS) };
}

export function useFrameLight(): FrameLight | null {
  const frame = useSmallFrame();
  const take = useTake();
  const time = useStudio((s) => s.time);
  const metering = useStudio((s) => s.metering());
  const [light, setLight] = useState<FrameLight | null>(null);
  useEffect(() => {
    if (!frame) return;
    let gone = false;
    // A dial that is being dragged has the processor first.
    const timer = setTimeout(async () => {
      const treatment = treatmentAt(take, time, metering);
      const map = treatment ? mapOf(treatment, await cubesHere(treatment)) : null;
      if (!gone) setLight(lightOf(frame, map ?? ((rgb) => rgb)));
    }, 60);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [frame, take, time, metering]);
  return light;
}
