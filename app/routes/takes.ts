/** Takes together: lists them, and puts parts of one into others, each with a step of undo of its own. */
import 'reflect-metadata';
import { ArrayMaxSize, ArrayNotEmpty, IsArray, IsIn, IsNumber, IsOptional, IsString, Max, Min } from 'class-validator';
import { DocumentError } from '@glimbo/core/boundary/document-error';
import { pasteOnto, SETTINGS, type Setting, type TakePaste } from '@glimbo/core/edit/paste';
import { CURVES, type CurveName } from '@glimbo/core/path/path';
import { readTake } from '@glimbo/core/take/validate';
import { readClipping } from '@glimbo/core/path/validate-clipping';
import { findFootage, listFootage } from '~/db/footage';
import { listTakes, presentTake, putOnTop } from '~/db/takes';
import { answered, readBody, Refusal } from '~/server/answer';
import type { TakeChoice } from '~/model/take';

/** Takes that the list offers to paste onto. */
export async function loader() {
  const [takes, footage] = await Promise.all([listTakes(), listFootage()]);
  const names = new Map(footage.map((f) => [f.id, f.name]));
  const choices = takes.flatMap(({ id, name, projectName, footageId }): TakeChoice[] => {
    const footageName = names.get(footageId);
    return footageName ? [{ id, name, projectName, footageName }] : [];
  });
  return Response.json({ takes: choices });
}

class PasteOrder {
  @IsArray() @ArrayNotEmpty() @ArrayMaxSize(200) @IsString({ each: true }) takes!: string[];
  @IsOptional() @IsString() from?: string;
  @IsOptional() @IsArray() @IsIn(SETTINGS, { each: true }) settings?: Setting[];
  @IsOptional() keys?: unknown;
  @IsOptional() @IsNumber() @Min(0) @Max(1e6) after?: number;
  @IsOptional() @IsArray() @IsIn(CURVES, { each: true }) channels?: CurveName[];
}

async function readPaste({ from, settings, keys, after = 0, channels }: PasteOrder): Promise<TakePaste> {
  const source = from === undefined ? null : await presentTake(from);
  if (settings?.length && !source) throw new Refusal('The take that the settings come from is gone.', 404);
  try {
    return {
      ...(keys === undefined ? {} : { keys: { clipping: readClipping(keys), after, channels } }),
      ...(source ? { from: source.take, settings } : {}),
    };
  } catch (error) {
    if (error instanceof DocumentError) throw new Refusal(`Nothing was pasted: ${error.problem}.`);
    throw error;
  }
}

export const action = answered(async ({ request }) => {
  const order = await readBody(PasteOrder, request);
  const paste = await readPaste(order);
  let pasted = 0;
  for (const id of order.takes) if (await pasteInto(id, paste)) pasted++;
  return { pasted };
});

/** Puts it on top of whatever a take is now; whether it was there. */
async function pasteInto(id: string, paste: TakePaste): Promise<boolean> {
  const found = await presentTake(id);
  const footage = found && (await findFootage(found.record.footageId));
  if (!found || !footage || found.record.deleted) return false;
  const saved = await putOnTop(id, pasteOnto(found.take, paste, footage.facts), readTake);
  return typeof saved === 'object' && 'revision' in saved;
}
