/** Checks the shape of a path at every boundary. */
import { IsIn } from 'class-validator';
import { Checked, Optional } from '../boundary/shape.js';
import { channelProblem } from './limits.js';

export class PathShape {
  @Optional() @IsIn(['dials', 'arc']) turn?: string;
  @Checked(channelProblem('pan')) pan?: unknown;
  @Checked(channelProblem('tilt')) tilt?: unknown;
  @Checked(channelProblem('roll')) roll?: unknown;
  @Checked(channelProblem('fov')) fov?: unknown;
  @Checked(channelProblem('bend')) bend?: unknown;
  @Checked(channelProblem('shiftX')) shiftX?: unknown;
  @Checked(channelProblem('shiftY')) shiftY?: unknown;
}
