import { useEffect } from 'react';
import { panBy, zoomAt } from './zoom-view.js';

/** The wheel comes closer around the pointer; with Shift, or sideways, it moves the picture. */
export function useWheelZoom(box: React.RefObject<HTMLDivElement | null>): void {
  useEffect(() => {
    const room = box.current?.parentElement;
    if (!room) return;
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const { left, top, width, height } = room.getBoundingClientRect();
      const inner = box.current as HTMLDivElement;
      if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
        panBy(
          -(event.deltaX || event.deltaY) / inner.offsetWidth,
          event.shiftKey ? 0 : -event.deltaY / inner.offsetHeight,
        );
        return;
      }
      const x = (event.clientX - left - width / 2) / inner.offsetWidth;
      const y = (event.clientY - top - height / 2) / inner.offsetHeight;
      zoomAt(Math.exp(-event.deltaY / 400), x, y);
    };
    room.addEventListener('wheel', onWheel, { passive: false });
    return () => room.removeEventListener('wheel', onWheel);
  }, [box]);
}
