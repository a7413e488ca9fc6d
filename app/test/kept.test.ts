/** A part that stops working says so, offers itself again, and is tried again with something else in it. */
import { expect, test } from '@jest/globals';
import { createElement, isValidElement } from 'react';
import { renderToStaticMarkup } from 'react-dom/server';
import { Kept } from '../ui/Kept';

const drawn = (kept: Kept) => {
  const out = kept.render();
  return isValidElement(out) ? renderToStaticMarkup(out) : String(out);
};

test('what goes wrong in a part is told in its place', () => {
  const props = { name: 'The bench', of: 'path', children: createElement('p', null, 'dials') };
  const kept = new Kept(props);
  expect(drawn(kept)).toBe('<p>dials</p>');
  kept.state = { ...kept.state, ...Kept.getDerivedStateFromError(new Error('x is not y')) };
  expect(drawn(kept)).toMatch(/role="alert".*The bench stopped working\. Your take is kept.*x is not y.*Show it again/);
});

test('another station is another try; the same one is not', () => {
  const broken = { error: new Error('x'), of: 'path' };
  expect(Kept.getDerivedStateFromProps({ name: 'The bench', of: 'path', children: null }, broken)).toBeNull();
  expect(Kept.getDerivedStateFromProps({ name: 'The bench', of: 'level', children: null }, broken)).toEqual({
    error: null,
    of: 'level',
  });
});
