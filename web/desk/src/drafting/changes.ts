/** One thing that differs between a draft and what it is held against; without words, it only differs. */
export interface Change {
  part: string;
  was?: string;
  is?: string;
}
