/** Which of the open lanes there is room for beside the Sweep: those opened last. */
import { useMemo } from 'react';
import { useStudio } from '../state/store';
import { laneOf, type Lane } from './lane-list';
import { GUTTER, LANE_WIDTH } from '../axes/lanes';

/** Pixels that the Sweep keeps. */
const SWEEP_LEAST = 240;

export function useLanesInRoom(width: number): Lane[] {
  const open = useStudio((s) => s.lanes);
  return useMemo(() => {
    const most = Math.max(1, Math.floor((width - GUTTER - SWEEP_LEAST) / LANE_WIDTH));
    return open.slice(-most).map(laneOf);
  }, [open, width]);
}
