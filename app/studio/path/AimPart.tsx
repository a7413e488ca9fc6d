/** Aiming: the dials, the lens presets, and the keyframes. */
import { Dials } from './Dials';
import { Keyframes } from './Keyframes';

export const AimPart = () => (
  <div className="@container h-full">
    <div className="grid h-full grid-cols-[minmax(0,1.15fr)_minmax(0,1fr)] divide-x divide-rule">
      <Dials />
      <Keyframes />
    </div>
  </div>
);
