/** What a piece of work in a process of its own is asked, and what it answers: the messages between it and the application. */
import type { Sketch } from '@glimbo/core/sketch/sketch';
import type { Calibration } from '@glimbo/core/stitch/calibrate';
import type { Method } from '@glimbo/core/motion/motion';
import type { Box } from '@glimbo/core/follow/box';
import type { Vec3 } from '@glimbo/core/geometry/rotation';
import type { Source, TwoLenses } from '@glimbo/core/stitch/source';
import type { ClipSettings } from '@glimbo/core/export/settings';
import type { Take } from '@glimbo/core/take/take';
import type { Look } from '@glimbo/media/examine';
import type { FollowOrder } from '@glimbo/media/follow';
import type { Gathered } from '@glimbo/media/gather';
import type { MediaFacts } from '@glimbo/media/probe';
import type { Recording } from '@glimbo/media/recording';
import type { SketchOrder } from '@glimbo/media/sketch';
import type { ClipReport } from '@glimbo/media/render/clip';

/** Recordings to be copied from a card's folder. */
export interface CopyRequest {
  card: string;
  recordings: CopyItem[];
  tags: string[];
}

export interface CopyItem {
  /** Names the copies. */
  id: string;
  /** What it will be called. */
  name: string;
  /** Relative to the card. */
  files: string[];
  /** Its companion of low resolution, relative to the card, where it has one. */
  companion?: string | null;
}

/** All files of a recording on a card: its originals, and its companion. */
export const filesOnCard = ({ files, companion }: CopyItem) => (companion ? [...files, companion] : files);

export type Task =
  | {
      kind: 'gather';
      recording: Recording;
      facts: MediaFacts;
      folder: string;
      variableRate: boolean;
      proxyWidth: number;
      /** Whether it is told what is there so far. */
      growing: boolean;
    }
  /** `picture`: where the picture of the frame that is being written goes. */
  | { kind: 'export'; take: Take; recording: Recording; out: string; settings: ClipSettings; picture: string }
  /** `targets`: for each recording where its files go, its companion last, in `folder`. */
  | ({ kind: 'copy'; targets: string[][]; folder: string } & CopyRequest)
  | { kind: 'calibrate'; recording: Recording & { source: TwoLenses }; time: number }
  /** Without a take the whole sphere, as the stitch would be at that moment. */
  | { kind: 'still'; take: Take | null; recording: Recording; time: number; width: number; height: number; out: string }
  | {
      kind: 'motion';
      proxy: string;
      rate: number;
      frames: number;
      method: Method;
      sidecar: { file: string; use: 'replace' | 'anchor' } | null;
      out: string;
    }
  /** Finds subjects in a proxy; `moving`: the folder in which what moves is kept. */
  | {
      kind: 'find';
      proxy: string;
      rate: number;
      frames: number;
      motion: string | null;
      moving: string;
      out: string;
    }
  /** The outline of what is pressed on in a frame of a proxy. */
  | {
      kind: 'outline';
      proxy: string;
      rate: number;
      frame: number;
      direction: Vec3;
      motion: string | null;
      moving: string;
      /** What was found, if it was. */
      found: string;
    }
  /**
   * Follows a subject in a proxy; `part`: where its track is as it grows, `picture`: where what it looks like is; `around`: only about the
   * key of that frame; `moving`: the folder in which what moves is kept, `found`: what was found, if it was.
   */
  | {
      kind: 'follow';
      proxy: string;
      rate: number;
      frames: number;
      order: FollowOrder;
      around: number | null;
      motion: string | null;
      moving: string;
      found: string;
      out: string;
      part: string;
      picture: string;
    }
  /** Sketches of several footages, each by its id. */
  | { kind: 'sketch'; footage: { id: string; order: SketchOrder }[] }
  /** The light of a recording, for its Meter. */
  | { kind: 'light'; recording: Recording }
  /** Whether a file is a LUT or a picture that takes can name. */
  | { kind: 'material'; file: string; as: 'cube' | 'png' | 'svg' }
  /** What a picture shows; `lenses`: two files are two lenses whatever is seen. */
  | { kind: 'recognise'; files: string[]; streams: number; lenses?: boolean }
  /** Recordings by their files' paths; those whose content is known by its mark need no looking at. */
  | { kind: 'examine'; recordings: string[][]; known: string[] };

/** What was found of one recording of a folder. */
export type Examined = { files: string[]; mark: string } & (
  Look | { known: true } | { problem: string } | { pair: string }
);

/** A footage that was sketched, or why it could not be. */
export type Sketched = { id: string } & ({ sketch: Sketch } | { problem: string });

/** What became of a motion analysis; `sidecar` says in words how the sidecar fits. */
export interface AnalysisReport {
  method: string;
  sidecar: string | null;
}

export type Report =
  | { progress: number }
  /** Something that can be taken over before the whole is done: a copied recording, an examined one, a proxy so far. */
  | { part: { item: CopyItem; files: string[] } | Examined | Gathered | Sketched }
  /** The picture of the frame that is being written is a new one. */
  | { picture: true }
  | {
      done:
        | Gathered
        | ClipReport
        | AnalysisReport
        | Calibration
        | Source
        | { copied: number }
        | { samples: number }
        | { seen: number }
        | { found: number }
        | Box
        | { sketched: number }
        | { examined: number }
        | { material: true };
    }
  /** `pair`: two files are named like a pair, and it has to be said whether they are. */
  | { failed: string; pair?: boolean };

/** What a task ends with when it ends well. */
export type Done = Extract<Report, { done: unknown }>['done'];
