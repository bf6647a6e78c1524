import { useEffect, useRef } from 'react';
import { useSettings } from '../app/settings';
import { type Inks, currentInks } from './inks';

/**
 * A canvas that fills its box at the screen's own resolution and is drawn anew when it is resized, when the theme changes, or when
 * `draw` is another function.
 */
export function useCanvas(
  draw: (context: CanvasRenderingContext2D, width: number, height: number, inks: Inks) => void,
) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useSettings((settings) => settings.theme);
  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    const redraw = () => {
      const { clientWidth: width, clientHeight: height } = element;
      const ratio = window.devicePixelRatio;
      element.width = Math.round(width * ratio);
      element.height = Math.round(height * ratio);
      const context = element.getContext('2d');
      if (!context || width === 0) return;
      context.scale(ratio, ratio);
      draw(context, width, height, currentInks());
    };
    // The theme's colours are in place one frame after its name.
    const frame = requestAnimationFrame(redraw);
    const observer = new ResizeObserver(redraw);
    observer.observe(element);
    return () => {
      cancelAnimationFrame(frame);
      observer.disconnect();
    };
  }, [draw, theme]);
  return canvas;
}
