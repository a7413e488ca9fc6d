/** The subjects of a footage: pointing one out, renaming, deleting and bringing it back, following it once more. */
import 'reflect-metadata';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import type { Box } from '@glimbo/core/follow/box';
import { unit, vec3 } from '@glimbo/core/geometry/rotation';
import type { FollowKey } from '@glimbo/media/follow';
import { layout } from '~/base/layout';
import { findFootage } from '~/db/footage';
import { addSubject, changeSubject, correctSubject, findSubject, subjectIds } from '~/db/subjects';
import { ask } from '~/queue/ask';
import { queue } from '~/queue/queue';
import { motionFile, motionFirst } from '~/jobs/motion-first';
import { isWhole, type Footage } from '~/model/footage';
import { TINTS, type Tint } from '~/model/subject';
import { answered, readBody, Refusal } from '~/server/answer';

const MOST = 100;

const INTENTS = ['outline', 'add', 'correct', 'rename', 'delete', 'restore', 'again', 'tint'] as const;

class SubjectOrder {
  @IsIn(INTENTS) intent!: (typeof INTENTS)[number];
  @IsOptional() @IsString() id?: string;
  @IsOptional() @IsString() @MaxLength(120) name?: string;
  @IsOptional() @IsIn(TINTS) tint?: Tint;
  @IsOptional() @IsInt() @Min(0) frame?: number;
  @IsOptional() @IsArray() @ArrayMinSize(3) @ArrayMaxSize(3) @IsNumber({}, { each: true }) direction?: number[];
  @IsOptional() @IsNumber() @Min(1) @Max(100) size?: number;
  @IsOptional() @IsNumber() @Min(0.5) @Max(100) width?: number;
  @IsOptional() @IsNumber() @Min(0.5) @Max(100) height?: number;
}

async function follow(footage: Footage, subject: string, around?: number) {
  await motionFirst(footage);
  const params = { subject, ...(around === undefined ? {} : { around }) };
  return queue().add({ kind: 'follow', params, footageId: footage.id, takeId: null });
}

/** Where a subject is said to be. */
function keyOf({ frame, direction, size, width, height }: SubjectOrder, frames: number): FollowKey {
  if (frame === undefined || frame >= frames || !direction || Math.hypot(...direction) < 0.5)
    throw new Refusal('Nothing was begun: where the subject is was not said.', 400);
  const said = width && height ? { width, height } : size;
  return { frame, direction: unit(vec3(direction)), ...(said ? { size: said } : {}) };
}

/** The outline of what is pressed on; a sentence where there is only bare ground. */
async function outlineOf(footage: Footage, order: SubjectOrder): Promise<Box> {
  if (!isWhole(footage)) throw new Refusal('The proxy is not made yet. Point the subject out when it is.');
  const { frame, direction } = keyOf(order, footage.facts.frames);
  return ask<Box>({
    kind: 'outline',
    proxy: layout.proxy(footage.id),
    rate: footage.facts.rate,
    frame,
    direction,
    motion: motionFile(footage),
    moving: layout.moving(footage.id),
    found: layout.found(footage.id),
  });
}

export const action = answered(async ({ request, params }) => {
  const footage = await findFootage(params.footageId!);
  if (!footage) throw new Refusal('That footage is gone from the Library.', 404);
  const order = await readBody(SubjectOrder, request);
  if (order.intent === 'outline') return outlineOf(footage, order);
  if (order.intent === 'add') {
    if (!isWhole(footage)) throw new Refusal('The proxy is not made yet. Point the subject out when it is.');
    const key = keyOf(order, footage.facts.frames);
    const count = (await subjectIds(footage.id)).length;
    if (count >= MOST) throw new Refusal(`A footage has ${MOST} subjects at most. Delete one first.`);
    const name = order.name?.trim() || `Subject ${count + 1}`;
    const id = await addSubject(footage.id, { name, tint: order.tint ?? TINTS[count % TINTS.length]! }, key);
    return { id, job: await follow(footage, id) };
  }
  const subject = order.id ? await findSubject(order.id) : null;
  if (!subject || subject.footage_id !== footage.id) throw new Refusal('That subject is gone.', 404);
  if (order.intent === 'again') return { job: await follow(footage, subject.id) };
  if (order.intent === 'correct') {
    const key = keyOf(order, footage.facts.frames);
    await correctSubject(subject, key);
    return { job: await follow(footage, subject.id, subject.version > 0 ? key.frame : undefined) };
  }
  if (order.intent === 'tint') {
    await changeSubject(subject.id, order.tint ? { tint: order.tint } : {});
    return {};
  }
  const name = order.name?.trim();
  if (order.intent === 'rename') await changeSubject(subject.id, name ? { name } : {});
  else await changeSubject(subject.id, { deleted: order.intent === 'delete' ? Date.now() : null });
  return {};
});
