import { useEffect, useRef } from 'react';
import { useSettings } from '../app/settings';
import { type Inks, currentInks } from './inks';

/**
 * A canvas that fills its box at the screen's own resolution and is drawn anew when it is resized, when the
 * theme changes, or when `draw` is another function.
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
    // One frame after its name the theme's colours are in place; and a screen that opens is laid out in one
    // frame and drawn in the next.
    let frame = requestAnimationFrame(() => (frame = requestAnimationFrame(redraw)));
    let first = true;
    const observer = new ResizeObserver(() => {
      // It reports the first size as a change, for which the frame above draws already.
      if (!first) redraw();
      first = false;
    });
    observer.observe(element);
    return () => {
      cancelAnimationFrame(frame);
      observer.disconnect();
    };
  }, [draw, theme]);
  return canvas;
}
