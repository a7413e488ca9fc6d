/** The Export station: what the clip is to be like, and this take's exports. */
import { ClipForm } from './ClipForm';
import { TakeExports } from './TakeExports';

export const ExportBench = () => (
  <div className="grid h-full grid-cols-[minmax(330px,1.2fr)_minmax(220px,1fr)] divide-x divide-rule">
    <ClipForm />
    <TakeExports />
  </div>
);
