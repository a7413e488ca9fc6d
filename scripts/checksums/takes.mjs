/** Takes of the demo's clips whose exports and stills are compared before and after a change, as open documents. */

const EMPTY = { turn: 'dials', pan: [], tilt: [], roll: [], fov: [], bend: [], shiftX: [], shiftY: [] };

/** A take with keyframes of the whole view: [time, view, ease]. */
export function take(footage, range, aspect, keyframes, more = {}) {
  const path = structuredClone(EMPTY);
  const view = { pan: 0, tilt: 0, roll: 0, fov: 75, bend: 0 };
  for (const [time, change, ease = 'smooth'] of keyframes) {
    Object.assign(view, change);
    for (const [name, value] of Object.entries(view)) path[name].push({ time, value, ease });
  }
  const { path: morePath = {}, ...rest } = more;
  return {
    format: 'glimbo-take',
    version: 1,
    footage,
    range: { in: range[0], out: range[1] },
    frame: { aspect },
    path: { ...path, ...morePath },
    ...rest,
  };
}

const turntable = [
  [1, { pan: 25, tilt: -16, fov: 58 }],
  [5, { pan: 32, tilt: -14, fov: 46 }, 'hold'],
  [6, { pan: 32, tilt: -14, fov: 46 }, 'ease-in-out'],
  [9, { pan: 118, tilt: -4, fov: 62 }],
  [11, { pan: 150, tilt: 0, fov: 66 }, 'whip'],
  [13, { pan: -58, tilt: -6, fov: 54 }],
];
const planet = [
  [0, { pan: -40, tilt: -90, fov: 255, bend: 1 }, 'ease-in-out'],
  [4, { pan: 28, tilt: -18, fov: 70, bend: 0 }],
  [8, { pan: 44, tilt: -12, fov: 52, bend: 0 }],
];
const ridge = [
  [2, { pan: 8, tilt: -4, fov: 78 }],
  [4.5, { pan: 150, tilt: -8, fov: 70 }],
  [6.8, { pan: 75, tilt: -6, fov: 74 }],
  [11, { pan: 4, tilt: -2, fov: 84, bend: 0.2 }],
];
const carry = [
  [0, { pan: 10, tilt: -8, fov: 76 }],
  [8, { pan: -30, tilt: -6, fov: 70 }],
];
const seam = [
  [1, { pan: -125, tilt: -4, fov: 60 }],
  [5.5, { pan: -75, tilt: -4, fov: 56 }],
];
const upsideDown = { orientation: { mount: { pan: 0, tilt: 0, roll: 180 } } };
const steady = (mode, more = {}) => ({ steady: { mode, ...more } });
const up = (roll) => [Math.sin((roll * Math.PI) / 180), Math.cos((roll * Math.PI) / 180), 0];
const marble = [[0, { pan: 30, tilt: -20, roll: 10, fov: 290, bend: 2.4 }]];
const tunnel = [[0, { pan: -20, tilt: 90, fov: 270, bend: 1 }]];

const at = (time, more) => ({ time, ...more });
const keyed = (from, value, to, end) => [at(from, { value }), at(to, { value: end })];
const patch = { pan: 0, tilt: -90, to: 'rig', size: 16, feather: 3, colour: '#6f7a63' };
const sector = { from: -60, to: 100, bottom: -90, top: 90, feather: 8, colour: '#1c2420' };
const twin = { runs: 'along', time: 1, pan: 20, tilt: 0, roll: 0, match: false };
const title = { kind: 'title', text: 'Brindle Halt', font: 'serif', size: 9, colour: '#f2e6c9', shadow: true };
const placed = { x: 0.1, y: 0.9, opacity: 100, fade: 0.3 };
const down = [
  [0, { pan: 0, tilt: -70, fov: 90 }],
  [3, { pan: 80, tilt: -75, fov: 90 }],
];
const four = { layout: 'four', views: [0, 1, 2, 3] };
const inset = { layout: 'inset', views: [0, 1] };
const lookout = (name, pan) => ({
  name,
  path: { ...structuredClone(EMPTY), pan, tilt: -8, roll: 0, fov: 60, bend: 0, shiftX: 0, shiftY: 0 },
});
const lookouts = {
  views: [lookout('Signal box', 40), lookout('Bridge', 130), lookout('Yard', -100), lookout('Shed', 0)],
  cuts: [
    { time: 5.5, shows: four, join: 'cut', length: 0 },
    { time: 6.2, shows: inset, join: 'cut', length: 0 },
  ],
  line: { width: 1, colour: '#ffffff' },
};

export const TAKES = {
  graded: take('turntable.mp4', [5, 6], '16:9', turntable, {
    look: { grade: { exposure: keyed(5, 0, 6, 1), contrast: 20 }, detail: { clarity: 30 } },
  }),
  'graded-still': take('turntable.mp4', [5, 6], '16:9', turntable, {
    look: { grade: { exposure: 0.5 }, detail: { sharpen: { amount: 80, radius: 1, threshold: 2 } } },
  }),
  titled: take('turntable.mp4', [5, 6], '9:16', turntable, { look: { overlays: [{ ...title, ...placed }] } }),
  patched: take('turntable.mp4', [0, 1], '16:9', down, { look: { patch: { kind: 'colour', ...patch } } }),
  filled: take('turntable.mp4', [0, 1], '16:9', down, { look: { patch: { kind: 'fill', ...patch } } }),
  parted: take('turntable.mp4', [5, 6], '16:9', turntable, { look: { sector } }),
  twinned: take('turntable.mp4', [5, 6], '16:9', turntable, { look: { sector: { ...sector, twin } } }),
  blurred: take('turntable.mp4', [11, 12], '16:9', turntable, { look: { shutter: 180 } }),
  paced: take('ridge-loop.mp4', [2, 4], '16:9', ridge, {
    pace: { keys: [at(2, { speed: 0.5 }), at(4, { speed: 2 })], blend: 'mean', sound: 'follow' },
  }),
  several: take('turntable.mp4', [5, 7], '16:9', turntable, { lookouts }),
  'turntable-wide': take('turntable.mp4', [5, 7], '16:9', turntable),
  'turntable-whip': take('turntable.mp4', [11, 12], '16:9', turntable, { path: { turn: 'arc' } }),
  'planet-tall': take('turntable.mp4', [0, 2], '9:16', planet),
  'planet-opens': take('turntable.mp4', [2, 4], '1:1', planet),
  marble: take('turntable.mp4', [0, 1], '4:3', marble),
  tunnel: take('turntable.mp4', [0, 1], '2.35:1', tunnel),
  shifted: take('turntable.mp4', [0, 1], '4:5', turntable, { path: { shiftX: 0.4, shiftY: -0.3 } }),
  slowed: take('ridge-loop.mp4', [2, 3], '16:9', ridge, { reading: 15 }),
  ridge: take('ridge-loop.mp4', [2, 4], '16:9', ridge),
  'ridge-rolling': take('ridge-loop.mp4', [2, 4], '16:9', ridge, steady('rolling', { strength: 80, window: 1 })),
  'ridge-level': take('ridge-loop.mp4', [2, 3], '16:9', ridge, {
    level: { keys: [{ time: 2, up: up(6) }, { time: 3, up: up(-4) }] },
  }), // prettier-ignore
  carry: take('footbridge-carry.mp4', [0, 2], '16:9', carry, upsideDown),
  'carry-still': take('footbridge-carry.mp4', [3, 5], '16:9', carry, { ...upsideDown, ...steady('still') }),
  seam: take('signal-corner-a.mp4', [1, 3], '16:9', seam),
};

const SMALL = ['--size', '1280x720'];
const TALL = ['--size', '720x1280'];

/** What is made: [name, take, command, arguments, ending]. */
export const MADE = [
  ['grade that is keyed, clarity', 'graded', 'export', [...SMALL], 'mp4'],
  ['grade, sharpened', 'graded-still', 'export', [...SMALL], 'mp4'],
  ['title', 'titled', 'export', [...TALL], 'mp4'],
  ['patch of a colour', 'patched', 'export', [...SMALL], 'mp4'],
  ['patch that is filled', 'filled', 'export', [...SMALL], 'mp4'],
  ['sector', 'parted', 'export', [...SMALL], 'mp4'],
  ['sector with a twin', 'twinned', 'export', [...SMALL], 'mp4'],
  ['motion blur', 'blurred', 'export', ['--size', '640x360'], 'mp4'],
  ['pace, frames mixed', 'paced', 'export', [...SMALL], 'mp4'],
  ['four and inset', 'several', 'export', [...SMALL], 'mp4'],
  ['still, graded', 'graded-still', 'frame', ['--time', '5.5', ...SMALL], 'png'],
  ['still, filled', 'filled', 'frame', ['--time', '0.5', ...SMALL], 'png'],
  ['still, sector with a twin', 'twinned', 'frame', ['--time', '5.5', ...SMALL], 'png'],
  ['still of four', 'several', 'frame', ['--time', '5.8', ...SMALL], 'png'],
  ['wide', 'turntable-wide', 'export', [...SMALL], 'mp4'],
  ['whip along the arc', 'turntable-whip', 'export', [...SMALL], 'mp4'],
  ['tall planet', 'planet-tall', 'export', [...TALL], 'mp4'],
  ['planet opens, square', 'planet-opens', 'export', ['--size', '720x720'], 'mp4'],
  ['marble', 'marble', 'export', ['--size', '960x720'], 'mp4'],
  ['tunnel', 'tunnel', 'export', ['--size', '1280x544'], 'mp4'],
  ['shifted, 4:5', 'shifted', 'export', ['--size', '864x1080'], 'mp4'],
  ['slowed', 'slowed', 'export', [...SMALL], 'mp4'],
  ['at another rate', 'ridge', 'export', [...SMALL, '--rate', '24'], 'mp4'],
  ['H.265', 'ridge', 'export', [...SMALL, '--codec', 'h265'], 'mp4'],
  ['ProRes', 'ridge', 'export', ['--size', '640x360', '--codec', 'prores'], 'mov'],
  ['rolling', 'ridge-rolling', 'export', [...SMALL], 'mp4'],
  ['whole sphere, steadied', 'ridge-rolling', 'export', ['--sphere', '--size', '1024x512'], 'mp4'],
  ['beside', 'ridge-rolling', 'export', ['--compare', 'beside', '--size', '1280x360'], 'mp4'],
  ['over', 'ridge-rolling', 'export', ['--compare', 'over', '--size', '640x720'], 'mp4'],
  ['inset', 'ridge-rolling', 'export', ['--compare', 'inset', ...SMALL], 'mp4'],
  ['level keys', 'ridge-level', 'export', [...SMALL], 'mp4'],
  ['upside down', 'carry', 'export', [...SMALL], 'mp4'],
  ['standing still', 'carry-still', 'export', [...SMALL], 'mp4'],
  ['two lenses', 'seam', 'export', [...SMALL], 'mp4'],
  ['two lenses laid flat', 'seam', 'export', ['--sphere', '--size', '1024x512'], 'mp4'],
  ['still of a planet', 'planet-tall', 'frame', ['--time', '0.5', ...TALL], 'png'],
  ['still, wide', 'turntable-wide', 'frame', ['--time', '5.5', ...SMALL], 'png'],
  ['still, marble', 'marble', 'frame', ['--time', '0.2', ...SMALL], 'png'],
  ['still, two lenses', 'seam', 'frame', ['--time', '2', ...SMALL], 'png'],
  ['still, steadied', 'ridge-rolling', 'frame', ['--time', '3', ...SMALL], 'png'],
];
