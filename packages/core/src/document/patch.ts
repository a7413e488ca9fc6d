/**
 * What has changed from one JSON document to another, as JSON Patch (RFC 6902): replace, add and remove. Documents are never
 * changed in place: what two of them have in common they share, so that a difference costs what differs and a long history
 * little more than one document.
 */
import { DocumentError } from '../boundary/document-error.js';

export type Json = null | boolean | number | string | readonly Json[] | { readonly [member: string]: Json | undefined };

interface Operation {
  op: 'add' | 'remove' | 'replace';
  /** JSON Pointer (RFC 6901); empty for the whole document. */
  path: string;
  /** What is there afterwards; absent when it is removed. */
  value?: Json;
}
export type Patch = readonly Operation[];

/** A patch that makes a document of anything. */
export const whole = (document: object): Patch => [{ op: 'replace', path: '', value: document as Json }];

/** Whether a patch needs nothing to go on from. */
export const isWhole = (patch: Patch): boolean => patch[0]?.path === '';

const escaped = (name: string) => name.replace(/~/g, '~0').replace(/\//g, '~1');
const unescaped = (name: string) => name.replace(/~1/g, '/').replace(/~0/g, '~');
const isList = (v: unknown): v is readonly Json[] => Array.isArray(v);
const isMembers = (v: unknown): v is Record<string, Json | undefined> =>
  typeof v === 'object' && v !== null && !Array.isArray(v);

/** Whether two JSON values say the same. Members that are undefined count as absent. */
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (isList(a) && isList(b)) return a.length === b.length && a.every((v, i) => same(v, b[i]));
  if (!isMembers(a) || !isMembers(b)) return false;
  const names = (v: Record<string, unknown>) => Object.keys(v).filter((name) => v[name] !== undefined);
  const [of, other] = [names(a), names(b)];
  return of.length === other.length && of.every((name) => same(a[name], b[name]));
}

/** What makes `after` of `before`. */
export function patchOf(before: object, after: object): Patch {
  const found: Operation[] = [];
  compare(before as Json, after as Json, '', found);
  return found;
}

function compare(before: Json, after: Json, path: string, found: Operation[]) {
  if (before === after) return;
  if (isList(before) && isList(after)) compareLists(before, after, path, found);
  else if (isMembers(before) && isMembers(after)) compareMembers(before, after, path, found);
  else found.push({ op: 'replace', path, value: after });
}

type Members = Record<string, Json | undefined>;

function compareMembers(before: Members, after: Members, path: string, found: Operation[]) {
  for (const name of new Set([...Object.keys(before), ...Object.keys(after)])) {
    const [from, to] = [before[name], after[name]];
    const at = `${path}/${escaped(name)}`;
    if (from === to) continue;
    if (to === undefined) found.push({ op: 'remove', path: at });
    else if (from === undefined) found.push({ op: 'add', path: at, value: to });
    else compare(from, to, at, found);
  }
}

/** What stands before and after the items that differ is left alone; those are compared one by one as far as both lists go. */
function compareLists(before: readonly Json[], after: readonly Json[], path: string, found: Operation[]) {
  const shorter = Math.min(before.length, after.length);
  let start = 0;
  while (start < shorter && same(before[start], after[start])) start++;
  let end = 0;
  while (end < shorter - start && same(before[before.length - 1 - end], after[after.length - 1 - end])) end++;
  const [gone, come] = [before.length - end - start, after.length - end - start];
  for (let i = 0; i < Math.min(gone, come); i++)
    compare(before[start + i]!, after[start + i]!, `${path}/${start + i}`, found);
  // From the back, so that the places of those in front stay.
  for (let i = gone - 1; i >= come; i--) found.push({ op: 'remove', path: `${path}/${start + i}` });
  for (let i = gone; i < come; i++) found.push({ op: 'add', path: `${path}/${start + i}`, value: after[start + i]! });
}

/** The document that a patch makes of another, which stays as it is. Throws DocumentError when it does not fit. */
export function patched<T extends object>(before: T | null, patch: Patch): T {
  let now: Json = before as Json;
  for (const operation of patch) now = applied(now, operation, places(operation.path), 0);
  if (typeof now !== 'object' || now === null) throw new DocumentError('a change of it leaves no document');
  return now as unknown as T;
}

/** The names that a JSON Pointer goes through. */
function places(path: string): string[] {
  if (path === '') return [];
  if (!path.startsWith('/')) throw new DocumentError(`a change names the place “${path}”, which is none`);
  return path.slice(1).split('/').map(unescaped);
}

function applied(target: Json, operation: Operation, path: string[], depth: number): Json {
  if (depth === path.length) {
    if (operation.op === 'remove' || operation.value === undefined) throw misfit(operation);
    return operation.value;
  }
  const name = path[depth]!;
  const last = depth === path.length - 1;
  if (isList(target)) return inList(target, operation, path, depth, last);
  if (!isMembers(target) || name === '__proto__') throw misfit(operation);
  const has = Object.hasOwn(target, name);
  if (last && operation.op === 'remove') {
    if (!has) throw misfit(operation);
    const { [name]: _, ...rest } = target;
    return rest;
  }
  if (!has && !(last && operation.op === 'add')) throw misfit(operation);
  return { ...target, [name]: applied(target[name] ?? null, operation, path, depth + 1) };
}

function inList(target: readonly Json[], operation: Operation, path: string[], depth: number, last: boolean): Json {
  const name = path[depth]!;
  const at = /^(0|[1-9]\d*)$/.test(name) ? Number(name) : NaN;
  const adds = last && operation.op === 'add';
  if (!(at < target.length + (adds ? 1 : 0))) throw misfit(operation);
  if (last && operation.op === 'remove') return target.toSpliced(at, 1);
  if (!adds) return target.with(at, applied(target[at]!, operation, path, depth + 1));
  if (operation.value === undefined) throw misfit(operation);
  return target.toSpliced(at, 0, operation.value);
}

const misfit = ({ path }: Operation) => new DocumentError(`a change of “${path}” does not fit it`);
