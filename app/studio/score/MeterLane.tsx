/** What the Meter adds to the exposure, down the time axis. */
import { brokenPath } from '~/ui/chart';
import { useStudio } from '../state/store';
import { LANE_WIDTH, type Axis } from '../axes/lanes';

/** Stops at the lane's sides. */
export const METER_SPAN = 4;
const FINE = 2;

export function MeterLane({ height, timeAt }: Axis) {
  const metering = useStudio((s) => s.metering());
  const x = (stops: number) =>
    LANE_WIDTH / 2 + (Math.max(-METER_SPAN, Math.min(METER_SPAN, stops)) / METER_SPAN) * (LANE_WIDTH / 2 - 8);
  return (
    <>
      <line x1={x(0)} x2={x(0)} y1={0} y2={height} stroke="var(--edge)" strokeDasharray="2 3" />
      {metering && (
        <path
          d={brokenPath(
            Array.from({ length: Math.ceil(height / FINE) + 1 }, (_, i): [number, number] => [
              x(metering(timeAt(i * FINE))),
              i * FINE,
            ]),
            () => false,
          )}
          fill="none"
          stroke="var(--ink)"
          strokeWidth={1.6}
          data-testid="meter-curve"
        />
      )}
    </>
  );
}
