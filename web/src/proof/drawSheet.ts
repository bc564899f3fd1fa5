import { drawPath } from './pathOperators';
import { Glyphs, Group, Path, PictureItem, Rule, Shading, type Item, type SheetContent } from './sheet';
import type { GlyphRun, PictureMark, ShadingMark } from './sheet';

/** Points of 1/72.27 in, in which paths are given, in hundredths of a PDF point. */
const OfPath = 7200 / 72.27;

/** How much of its colour the thinnest rule has. */
const Palest = 0.55;

/** What a sheet needs that isn't in it. */
export interface Resources {
  picture: (digest: string) => CanvasImageSource | null;
}

const colours = new Map<number, string>();

function css(colour: number): string {
  let known = colours.get(colour);
  if (!known) colours.set(colour, (known = `#${colour.toString(16).padStart(6, '0')}`));
  return known;
}

/** Draws a sheet whose fonts are there, on white. `scale` is pixels a PDF point. */
export function drawSheet(
  canvas: HTMLCanvasElement,
  sheet: SheetContent,
  width: number,
  height: number,
  scale: number,
  resources: Resources,
) {
  canvas.width = Math.round(width * scale);
  canvas.height = Math.round(height * scale);
  const context = canvas.getContext('2d', { alpha: false });
  if (!context) throw new Error('This browser can’t draw pages.');
  context.fillStyle = css(0xffffff);
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.textRendering = 'geometricPrecision';
  context.fontKerning = 'none';
  context.imageSmoothingQuality = 'high';
  new Drawing(context, sheet, scale / 100, resources).draw();
}

class Drawing {
  private style = -1;
  private colour = -1;

  constructor(
    private readonly context: CanvasRenderingContext2D,
    private readonly sheet: SheetContent,
    /** Pixels a hundredth of a PDF point. */
    private readonly scale: number,
    private readonly resources: Resources,
  ) {}

  draw() {
    this.items(this.sheet.items);
  }

  private items(items: Item[]) {
    for (const item of items) {
      switch (item[0]) {
        case Glyphs:
          this.glyphs(item);
          break;
        case Rule:
          this.fill(item[5]);
          this.rule(item[1], item[2], item[3], item[4]);
          break;
        case PictureItem:
          this.picture(item);
          break;
        case Path: {
          // A clip holds for the rest of its group; whatever else a path sets is its own.
          const clips = item[3].endsWith('W n\n') || item[3].endsWith('W* n\n');
          const before = this.context.getTransform();
          if (!clips) this.context.save();
          this.toPath(item[1], item[2]);
          drawPath(this.context, item[3], item[4], item[5]);
          if (clips) this.context.setTransform(before);
          else this.restore();
          break;
        }
        case Shading:
          this.shading(item);
          break;
        case Group: {
          const [, x, y, a, b, c, d, content] = item;
          this.context.save();
          this.context.transform(a, b, c, d, x * this.scale, y * this.scale);
          this.items(content);
          this.restore();
          break;
        }
      }
    }
  }

  private fill(colour: number) {
    if (colour === this.colour) return;
    this.colour = colour;
    this.context.fillStyle = css(colour);
  }

  /** What was set in between is forgotten. */
  private restore() {
    this.context.restore();
    this.style = -1;
    this.colour = -1;
  }

  private glyphs([, x, y, style, glyphs]: GlyphRun) {
    const { context, scale } = this;
    const [font, size, widening, colour] = this.sheet.styles[style]!;
    if (style !== this.style) {
      this.style = style;
      context.font = `${size * 100 * scale}px "${font}"`;
    }
    this.fill(colour);
    if (widening !== 1) {
      context.save();
      context.transform(widening, 0, 0, 1, x * scale, y * scale);
      this.stretches(glyphs, 0, 0, scale / widening);
      this.restore();
    } else this.stretches(glyphs, x * scale, y * scale, scale);
  }

  private stretches(glyphs: string | (number | string)[], x: number, y: number, scale: number) {
    if (typeof glyphs === 'string') return this.context.fillText(glyphs, x, y);
    for (let i = 0; i < glyphs.length; i += 2) {
      this.context.fillText(glyphs[i + 1] as string, x + (glyphs[i] as number) * scale, y);
    }
  }

  /** A thin rule lies on whole pixels, and is paler rather than thinner than one: lines of tables are sharp and don't come and go. */
  private rule(x: number, y: number, width: number, height: number) {
    const { context, scale } = this;
    const [w, h] = [width * scale, height * scale];
    const [left, top] = [x * scale, y * scale - h];
    const thin = Math.min(w, h);
    if (thin > 2 || context.getTransform().b !== 0) return context.fillRect(left, top, w, h);
    context.globalAlpha = Math.min(1, Math.max(Palest, thin));
    if (w < h) context.fillRect(Math.round(left), top, Math.max(1, Math.round(w)), h);
    else context.fillRect(left, Math.round(top), w, Math.max(1, Math.round(h)));
    context.globalAlpha = 1;
  }

  private picture([, x, y, number, angle, left, top, width, height, shownWidth, shownHeight]: PictureMark) {
    const source = this.resources.picture(this.sheet.pictures[number]![0]);
    if (!source) return;
    const { context, scale } = this;
    context.save();
    context.translate(x * scale, y * scale);
    context.rotate((-angle * Math.PI) / 180);
    if (shownWidth !== undefined && shownHeight !== undefined) {
      context.beginPath();
      context.rect(0, -shownHeight * scale, shownWidth * scale, shownHeight * scale);
      context.clip();
    }
    context.drawImage(source, left * scale, top * scale, width * scale, height * scale);
    this.restore();
  }

  private shading([, x, y, path, evenOdd, opacity, matrix, isRadial, c, stops]: ShadingMark) {
    const { context } = this;
    context.save();
    this.toPath(x, y);
    drawPath(context, path + (evenOdd ? 'W* n\n' : 'W n\n'), 1, 1);
    context.transform(...matrix);
    const gradient = isRadial
      ? context.createRadialGradient(c[0]!, c[1]!, Math.max(0, c[2]!), c[3]!, c[4]!, Math.max(0, c[5]!))
      : context.createLinearGradient(c[0]!, c[1]!, c[2]!, c[3]!);
    for (let i = 0; i < stops.length; i += 2) {
      gradient.addColorStop(Math.min(1, Math.max(0, stops[i]!)), css(stops[i + 1]!));
    }
    context.fillStyle = gradient;
    context.globalAlpha = opacity;
    // All that the clip lets through.
    const { a, b, c: cc, d, e, f } = context.getTransform().inverse();
    const corners = [
      [0, 0],
      [context.canvas.width, 0],
      [0, context.canvas.height],
      [context.canvas.width, context.canvas.height],
    ].map(([px, py]) => [a * px! + cc * py! + e, b * px! + d * py! + f]);
    const xs = corners.map((p) => p[0]!);
    const ys = corners.map((p) => p[1]!);
    context.fillRect(
      Math.min(...xs),
      Math.min(...ys),
      Math.max(...xs) - Math.min(...xs),
      Math.max(...ys) - Math.min(...ys),
    );
    this.restore();
  }

  /** To the coordinates of paths, whose Y goes upwards. */
  private toPath(x: number, y: number) {
    const size = OfPath * this.scale;
    this.context.transform(size, 0, 0, -size, x * this.scale, y * this.scale);
  }
}
