/** The colours in which subjects are drawn; a new one has the next. */
export const TINTS = ['plum', 'sky', 'rose', 'amber', 'violet', 'mint', 'navy', 'ash'] as const;
export type Tint = (typeof TINTS)[number];

/** A subject as the interface knows it; where it is frame by frame lies in a file. */
export interface Subject {
  id: string;
  name: string;
  tint: Tint;
  /** Where it was pointed out first: the frame, and a unit direction in that frame's own picture. */
  pointed: { frame: number; direction: readonly [number, number, number] };
  /** Frames of the footage in which it was pointed out, or put right by hand. */
  keys: number[];
  /** Counts how often it was followed; 0 as long as it was not. */
  version: number;
  /** Whether the footage's picture is another one since it was followed. */
  void: boolean;
}

/** The file of its picture in the folder of subjects. */
export const subjectPicture = ({ id }: Pick<Subject, 'id'>) => `${id}.jpg`;

/** How takes name it: its file in the folder of subjects. And which one a take names so. */
export const subjectFile = ({ id }: Pick<Subject, 'id'>) => `${id}.json`;
/** Whether a name can be that of a file in the folder of subjects, and of nothing elsewhere. */
export const isSubjectFile = (name: string): boolean => /^[\w-]{1,80}\.json$/.test(name);
export const subjectOf = (file: string): string => file.replace(/\.json$/, '');
