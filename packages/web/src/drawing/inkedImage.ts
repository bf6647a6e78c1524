import type { Spectrogram } from '@imprint/core/reading/spectra/spectrogram';

const made = new WeakMap<Spectrogram, { ink: string; image: HTMLCanvasElement }>();

/**
 * A spectrogram in an ink: the louder, the more of it. Made once per ink, since it is drawn at every step.
 *
 * @param under another one that it is printed over
 */
export function inkedImage(picture: Spectrogram, ink: string, under?: HTMLCanvasElement): HTMLCanvasElement {
  const known = made.get(picture);
  if (known?.ink === ink) return known.image;
  const image = printed(picture, ink);
  if (under) image.getContext('2d')!.drawImage(under, 0, 0);
  made.set(picture, { ink, image });
  return image;
}

function printed({ columns, rows, levels }: Spectrogram, ink: string): HTMLCanvasElement {
  const canvas = document.createElement('canvas');
  canvas.width = columns;
  canvas.height = rows;
  const context = canvas.getContext('2d')!;
  const image = context.createImageData(columns, rows);
  const [red, green, blue] = [1, 3, 5].map((at) => parseInt(ink.slice(at, at + 2), 16));
  for (let column = 0; column < columns; column++) {
    for (let row = 0; row < rows; row++) {
      const at = 4 * ((rows - 1 - row) * columns + column);
      const level = levels[column * rows + row] / 255;
      image.data[at] = red;
      image.data[at + 1] = green;
      image.data[at + 2] = blue;
      image.data[at + 3] = 255 * level ** 1.6;
    }
  }
  context.putImageData(image, 0, 0);
  return canvas;
}
