/** What the interface knows of a footage. */
import type { Mark, Range } from '@glimbo/core/gather/remarks';
import type { Source } from '@glimbo/core/stitch/source';
import type { Gathered } from '@glimbo/media/gather';
import type { MediaFacts } from '@glimbo/media/probe';
import type { Job } from './job';

/** What was made when it was gathered; the source has a column of its own. */
export type Makings = Omit<Gathered, 'source'>;

/** The file of a proxy, whole or as far as it is there. */
export const proxyFile = ({ ready }: Makings) => (ready === undefined ? 'proxy.mp4' : `proxy-${ready}.mp4`);

/** Whether all of a footage was gathered. */
export const isWhole = ({ gathered }: Pick<Footage, 'gathered'>) => gathered !== null && gathered.ready === undefined;

/** How many seconds of a footage can be played. */
export const reachOf = ({ gathered, facts }: Pick<Footage, 'gathered' | 'facts'>) =>
  gathered ? (gathered.ready ?? facts.frames) / facts.rate : 0;

export interface Footage {
  id: string;
  name: string;
  /** The original, which is never written to; and the second lens's, where there is one. */
  file: string;
  secondFile: string | null;
  /** Used where it lies, not copied into the data folder. */
  inPlace: boolean;
  variableRate: boolean;
  facts: MediaFacts;
  kind: Source['kind'];
  /** Width in pixels of the whole sphere at the footage's own resolution. */
  sphereWidth: number;
  /** Whether its file's picture is the whole sphere as it is: nothing is joined, cut or stitched. */
  laidFlat: boolean;
  gathered: Makings | null;
  /** Counts how often its proxy was made, so that browsers do not keep an old one. */
  version: number;
  fingerprint: string | null;
  favourite: boolean;
  tags: string[];
  notes: string;
  marks: Mark[];
  ranges: Range[];
  /** What is known of its motion analysis; the analysis itself lies in a file. */
  motion: MotionState | null;
  created: number;
  deleted: number | null;
}

/** A footage as it is offered to be taken as a twin. */
export interface FootageChoice {
  id: string;
  name: string;
  /** The name of its file, as takes name it. */
  file: string;
  /** Frames a second, and how many. */
  rate: number;
  frames: number;
  /** Where its proxy is fetched. */
  proxy: string;
}

export interface MotionState {
  /** The file's name in the folder of analyses; another one with every analysis and correction. */
  file: string;
  method: string;
  /** What was analysed, as `seenAs` says it: it is void when that is something else now. */
  seen: string;
  void: boolean;
  /** How the sidecar fits, in words, if it was used. */
  sidecar: string | null;
}

export interface LibraryFootage extends Pick<
  Footage,
  | 'id'
  | 'name'
  | 'kind'
  | 'version'
  | 'favourite'
  | 'tags'
  | 'notes'
  | 'created'
  | 'variableRate'
  | 'deleted'
  | 'inPlace'
> {
  width: number;
  height: number;
  duration: number;
  rate: number;
  codec: string;
  size: number;
  thumbnails: number;
  /** Seconds of it whose proxy is there. */
  reach: number;
  marks: number;
  job: Pick<Job, 'id' | 'state' | 'progress' | 'error'> | null;
}

export interface FootageInfo extends Pick<Footage, 'facts' | 'inPlace' | 'notes' | 'fingerprint'> {
  files: string[];
  proxy: { width: number; height: number } | null;
}
