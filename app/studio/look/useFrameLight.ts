/** The light of the Frame as it is looked at: brightnesses of a small picture, and how often each is. */
import { useEffect, useState } from 'react';
import { mapOf, treatmentAt } from '@glimbo/core/look/treatment';
import { cubesOf } from '~/preview/cubes';
import { lightIn, type FrameLight } from '~/preview/small-look';
import { useStillTime, useStudio, useTake } from '../state/store';
import { useSmallFrame } from './useSmallFrame';

export function useFrameLight(): FrameLight | null {
  const frame = useSmallFrame();
  const take = useTake();
  const time = useStillTime();
  const metering = useStudio((s) => s.metering());
  const [light, setLight] = useState<FrameLight | null>(null);
  useEffect(() => {
    if (!frame || time === null) return;
    let gone = false;
    // A dial that is being dragged has the processor first.
    const timer = setTimeout(async () => {
      const treatment = treatmentAt(take, time, metering);
      const map = treatment ? mapOf(treatment, await cubesOf(treatment.lut?.file)) : null;
      if (!gone) setLight(lightIn(frame, map ?? ((rgb) => rgb)));
    }, 60);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [frame, take, time, metering]);
  return light;
}
