/** A command of the page. */
export interface PageCommand {
  readonly label: string;
  readonly keys?: string;
  run(): void;
}
