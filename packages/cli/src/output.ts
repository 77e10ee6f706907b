/** Where the commands print; replaced in tests. */
export interface Output {
  out(text: string): void;
  error(text: string): void;
}
