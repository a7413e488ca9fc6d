/** The Path station: dials, lens presets, and the keyframes. */
import { Dials } from './Dials';
import { Keyframes } from './Keyframes';

export function PathBench() {
  return (
    <div className="@container h-full">
      <div className="grid h-full grid-cols-[minmax(0,1.1fr)_minmax(0,1fr)] divide-x divide-rule">
        <Dials />
        <Keyframes />
      </div>
    </div>
  );
}
