/** Removing what was deleted for good: says what goes before it goes, since this alone cannot be undone. */
import { AlertDialog } from 'radix-ui';
import { useFetcher } from 'react-router';
import { bytes } from '~/ui/format';
import type { LibraryFootage } from '~/model/footage';
import type { TakeRecord } from '~/model/take';

const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;

export function RemoveForGood({ footage, takes }: { footage: LibraryFootage[]; takes: TakeRecord[] }) {
  const fetcher = useFetcher();
  const ids = new Set(footage.map((f) => f.id));
  const hanging = takes.filter((t) => ids.has(t.footageId)).length;
  const copied = footage.filter((f) => !f.inPlace);
  const size = copied.reduce((sum, f) => sum + f.size, 0);
  return (
    <AlertDialog.Root>
      <AlertDialog.Trigger className="button" disabled={!footage.length}>
        Remove for good
      </AlertDialog.Trigger>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <AlertDialog.Content className="menu fixed top-1/3 left-1/2 w-[460px] max-w-[92vw] -translate-x-1/2 p-4!">
          <AlertDialog.Title className="font-semibold">
            Remove {count(footage.length, 'footage', 'footages')} for good?
          </AlertDialog.Title>
          <AlertDialog.Description asChild>
            <ul className="my-3 list-disc pl-5">
              <li>
                {footage
                  .slice(0, 4)
                  .map((f) => f.name)
                  .join(', ')}
                {footage.length > 4 ? ` and ${footage.length - 4} more` : ''}, with proxies, analyses, marks and notes
              </li>
              {hanging > 0 && <li>{count(hanging, 'take', 'takes')} of it</li>}
              {copied.length > 0 && (
                <li>
                  {count(copied.length, 'original', 'originals')} that Glimbo copied, {bytes(size)}
                </li>
              )}
              {copied.length < footage.length && <li>Originals that are used where they lie stay there.</li>}
            </ul>
          </AlertDialog.Description>
          <p className="mb-3 text-muted">This cannot be undone. Finished exports stay.</p>
          <div className="flex justify-end gap-2">
            <AlertDialog.Cancel className="button">Keep it</AlertDialog.Cancel>
            <AlertDialog.Action
              className="button main"
              onClick={() => void fetcher.submit({ intent: 'purge' }, { method: 'post', action: '/?index' })}
            >
              Remove for good
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
