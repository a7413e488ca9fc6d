/** The house is as docs/architecture.md draws it: imports go downwards, and nothing leads back to itself. */
import { expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { circles, foldersBothWays, imports, roomOf, sources, ways } from './house';

test('no file leads back to itself', () => {
  expect(circles()).toEqual([]);
});

test('the drawing shows every way from room to room, and no other', () => {
  const drawing = /```mermaid\n([\s\S]*?)```/.exec(readFileSync('docs/architecture.md', 'utf8'))![1]!;
  const drawn = [...drawing.matchAll(/^\s*([\w/]+) --> ([\w/ &]+)$/gm)].flatMap(([, from, to]) =>
    to!.split(' & ').map((t) => `${from} --> ${t.trim()}`),
  );
  expect([...drawn].sort()).toEqual([...ways].sort());
});

test('no two rooms lead to each other', () => {
  const both = [...ways].filter((way) => ways.has(way.split(' --> ').reverse().join(' --> ')));
  expect(both).toEqual([]);
});

test.each(['packages/core/src/', 'app/studio/'])('no two folders of %s lead to each other', (of) => {
  expect(foldersBothWays(of)).toEqual([]);
});

/** What may be imported from where: each floor stands on those after it. */
const FLOORS = [['app'], ['app/routes'], ['app/studio', 'app/library'], ['app/preview', 'app/ui'], ['app/model']];

test('the interface knows nothing of the server, and its floors lead downwards', () => {
  const floorOf = (room: string) => FLOORS.findIndex((floor) => floor.includes(room));
  const wrong = [...imports].flatMap(([from, targets]) =>
    targets
      .filter((to) => {
        const [a, b] = [floorOf(roomOf(from)), floorOf(roomOf(to))];
        const across = a === b && roomOf(from) !== roomOf(to);
        const server = /^app\/(db|server|jobs|queue|gathering)$/.test(roomOf(to));
        return a > 1 && (server || (b >= 0 && b < a) || across);
      })
      .map((to) => `${from} imports ${to}`),
  );
  expect(wrong).toEqual([]);
});

test('files of the same name in different places do not hide each other', () => {
  expect(sources.length).toBeGreaterThan(250);
});
