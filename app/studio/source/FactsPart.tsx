/** The facts of the footage's file. */
import { bytes, clock, rateText } from '~/ui/format';
import { useStudio } from '../state/store';

export function FactsPart() {
  const footage = useStudio((s) => s.footage);
  const { facts } = footage;
  const rows: [string, string][] = [
    ['File', [footage.file, footage.secondFile].filter(Boolean).join('  and  ')],
    ['Picture', `${facts.width} × ${facts.height}, ${facts.codec}, ${facts.pixelFormat}`],
    ['Frame rate', `${rateText(facts.rate)}${footage.variableRate ? ', made constant' : ''}`],
    ['Duration', `${clock(facts.duration)} (${facts.frames} frames)`],
    ['Sound', facts.sound ? `${facts.sound.codec}, ${facts.sound.channels} channels, ${facts.sound.sampleRate / 1000} kHz` : 'none'],
    ['Spherical metadata', facts.spherical ?? 'none'],
    ['Size', `${bytes(facts.size)}, ${(facts.bitRate / 1e6).toFixed(1)} Mbit/s, ${facts.container}`],
    ['Proxy', footage.gathered ? `${footage.gathered.proxy.width} × ${footage.gathered.proxy.height}` : 'being made'],
  ]; // prettier-ignore
  return (
    <dl className="grid auto-rows-min grid-cols-[auto_1fr] gap-x-4 gap-y-1 p-3">
      {rows.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-muted">{name}</dt>
          <dd className="figure truncate pt-px" title={value}>
            {value}
          </dd>
        </div>
      ))}
    </dl>
  );
}
