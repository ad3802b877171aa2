/** A point in a drawing of a body: x along the floor, z up, m. */
export type Point = readonly number[];
/** Where the joints of a body are, by name. */
export type Joints = Record<string, Point>;

/** A figure that stands at a joint. */
export interface JointLabel {
  joint: string;
  words: string;
}
