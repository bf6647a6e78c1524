import { Maximize2, ZoomIn, ZoomOut } from 'lucide-react';
import { durationOf } from '@imprint/core/reading/audio';
import { useShortcut } from '../../app/useShortcut';
import { ALL_HZ, zoomed } from '../../drawing/stretch';
import { showAll, useMoment, useZoom } from '../../stores/comparedStore';
import { audioOf, cutOf, useStudyStore } from '../../stores/studyStore';

/** Nearer or further: time about the moment, or frequency where the pointer is or was. */
function zoom(isNearer: boolean): void {
  const { axis, time, hz, aroundHz } = useZoom.getState();
  if (axis === 'hz') {
    useZoom.setState({ hz: zoomed(ALL_HZ, hz ?? ALL_HZ, isNearer, aroundHz) });
    return;
  }
  const whole = { min: 0, max: durationOf(audioOf(cutOf(useStudyStore.getState())!)) };
  useZoom.setState({ time: zoomed(whole, time ?? whole, isNearer, useMoment.getState().seconds) });
}

/** Buttons and keys that bring what the pictures show nearer. */
export function Zooming() {
  const isWhole = useZoom(({ time, hz }) => time === null && hz === null);
  useShortcut('zoomIn', () => zoom(true), []);
  useShortcut('zoomOut', () => zoom(false), []);
  useShortcut('zoomCut', showAll, []);
  const buttons = [
    { label: 'Zoom in', title: 'Zoom in: +, or drag across a picture', Icon: ZoomIn, act: () => zoom(true) },
    { label: 'Zoom out', title: 'Zoom out: −', Icon: ZoomOut, act: () => zoom(false) },
    { label: 'Show all', title: 'Show all: Q, or a double click', Icon: Maximize2, act: showAll },
  ];
  return (
    <div className="flex">
      {buttons.map(({ label, title, Icon, act }) => (
        <button
          key={label}
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label={label}
          title={title}
          disabled={isWhole && label !== 'Zoom in'}
          onClick={act}
        >
          <Icon size={14} />
        </button>
      ))}
    </div>
  );
}
