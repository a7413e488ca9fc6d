/** The LUT of the look, and the look as files for other programs: `.cube` and ASC CDL. */
import { Download, Upload, X } from 'lucide-react';
import { toast } from 'sonner';
import { mapOfDecision, readDecision, writeDecision } from '@glimbo/core/look/cdl';
import { cubeOf, writeCube } from '@glimbo/core/look/cube';
import { fitDecision } from '@glimbo/core/look/fit-decision';
import { gradeAt } from '@glimbo/core/look/channels';
import { mapOf, treatmentAt } from '@glimbo/core/look/treatment';
import { withLook } from '@glimbo/core/edit/look';
import { cubesOf } from '~/preview/cubes';
import { nameOfMaterial } from '~/model/material';
import { NumberField } from '~/ui/Dial';
import { chooseFiles, saveFile } from '~/ui/files';
import { IconButton } from '~/ui/IconButton';
import { useStudio, useStudioStore, useTake, type StudioStore } from '../state/store';
import { keepMaterial } from './materials';

/** Points a side of a LUT that is written. */
const WRITTEN = 33;

export function LutFields() {
  const store = useStudioStore();
  const { look } = useTake();
  const missing = useStudio((s) => s.lutMissing);
  const lut = look?.lut;
  const set = (next: NonNullable<typeof look>['lut']) => store.getState().edit((t) => withLook(t, { lut: next }));
  return (
    <section aria-label="LUT" className="flex flex-col gap-1">
      <div className="flex items-center gap-1.5">
        <span className="w-19 shrink-0">LUT</span>
        {lut ? (
          <>
            <span className="min-w-0 flex-1 truncate" title={nameOfMaterial(lut.file)} data-testid="lut-name">
              {nameOfMaterial(lut.file)}
            </span>
            <NumberField
              label="Amount of the LUT"
              className="h-6! w-16"
              value={lut.amount}
              min={0}
              max={100}
              digits={0}
              unit=" %"
              onCommit={(amount) => set({ ...lut, amount })}
            />
            <IconButton label="Take the LUT out" className="size-6!" onClick={() => set(undefined)}>
              <X size={13} />
            </IconButton>
          </>
        ) : (
          <span className="flex-1 text-muted">none</span>
        )}
        <button className="button h-6!" onClick={() => chooseFiles('.cube,.cdl,.cc,.ccc', (f) => takeIn(store, f))}>
          <Upload size={13} /> Read .cube or .cdl
        </button>
      </div>
      {lut && missing && (
        <p role="alert" className="text-camera">
          The LUT {nameOfMaterial(lut.file)} is missing: the look is drawn without it, and no export begins. Read it in
          again, or take it out.
        </p>
      )}
      <div className="flex items-center gap-1.5">
        <span className="w-19 shrink-0">As a file</span>
        <button className="button h-6!" disabled={!look} onClick={() => void writeLut(store)}>
          <Download size={13} /> .cube
        </button>
        <button className="button h-6!" disabled={!look} onClick={() => void writeCdl(store)}>
          <Download size={13} /> .cc
        </button>
      </div>
    </section>
  );
}

/** Takes a LUT or a colour decision in as the look's LUT. */
async function takeIn(store: StudioStore, file: File) {
  try {
    const text = await file.text();
    const decided = /\.(cdl|ccc?)$/i.test(file.name);
    const name = file.name.replace(/\.\w+$/, '');
    const cube = decided ? writeCube(cubeOf(name, mapOfDecision(readDecision(text)), WRITTEN)) : text;
    const kept = await keepMaterial(`${name}.cube`, cube);
    const { amount = 100 } = store.getState().take().look?.lut ?? {};
    store.getState().edit((t) => withLook(t, { lut: { file: kept, amount: amount || 100 } }));
  } catch (error) {
    toast.error(`${file.name}: ${(error as Error).message}`);
  }
}

/** The whole look at the playhead as one map of colours. */
async function lookHere(store: StudioStore) {
  const { take, time, metering } = store.getState();
  const treatment = treatmentAt(take(), time, metering()) ?? { grade: gradeAt({}, 0) };
  return mapOf(treatment, await cubesOf(treatment.lut?.file));
}

async function writeLut(store: StudioStore) {
  const name = 'Look';
  saveFile(`${name}.cube`, writeCube(cubeOf(name, await lookHere(store), WRITTEN)), 'text/plain');
}

async function writeCdl(store: StudioStore) {
  const { decision, off } = fitDecision('Look', await lookHere(store));
  saveFile('Look.cc', writeDecision(decision), 'application/xml');
  toast(`A colour decision cannot say all of a look. This one is ${(100 * off).toFixed(1)} % off in the mean.`);
}
