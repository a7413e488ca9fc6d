/** A subject as the interface knows it; where it is frame by frame lies in a file. */
export interface Subject {
  id: string;
  name: string;
  /** Frames of the footage in which it was pointed out, or put right by hand. */
  keys: number[];
  /** Counts how often it was followed; 0 as long as it was not. */
  version: number;
  /** Whether the footage's picture is another one since it was followed. */
  void: boolean;
}

/** How takes name it: its file in the folder of subjects. And which one a take names so. */
export const subjectFile = ({ id }: Pick<Subject, 'id'>) => `${id}.json`;
export const subjectOf = (file: string): string => file.replace(/\.json$/, '');
