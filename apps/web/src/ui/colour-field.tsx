export type Rgb = readonly [number, number, number];

const toScreen = (v: number) => (v <= 0.0031308 ? v * 12.92 : 1.055 * v ** (1 / 2.4) - 0.055);
const toLinear = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);

/** A linear colour as the screen's #rrggbb. */
export const hexOf = (c: Rgb): string =>
  `#${c
    .map((v) =>
      Math.round(Math.max(0, Math.min(1, toScreen(v))) * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;

const colourOf = (hex: string): Rgb =>
  [1, 3, 5].map((i) => Number(toLinear(parseInt(hex.slice(i, i + 2), 16) / 255).toFixed(5))) as unknown as Rgb;

/** A colour: linear red, green and blue, chosen as the screen shows them. */
export function ColourField({
  value,
  onChange,
  onEnd,
  label,
}: {
  value: Rgb;
  onChange(value: Rgb, gesture: string | null): void;
  onEnd(): void;
  label: string;
}) {
  return (
    <input
      type="color"
      aria-label={label}
      value={hexOf(value)}
      onChange={(e) => onChange(colourOf(e.target.value), 'colour')}
      onBlur={onEnd}
      className="h-7 w-9 shrink-0 cursor-pointer rounded border border-line-strong bg-raised"
    />
  );
}
