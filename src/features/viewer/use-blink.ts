import { useEffect, useState } from 'react';
import { useDesk } from '../../state/desk-store';

/** Whether what the picture is held against is seen just now, while the two blink. */
export function useBlink(): boolean {
  const blinks = useDesk((state) => state.compare === 'blink');
  const seconds = useDesk((state) => state.blinkSeconds);
  const [other, setOther] = useState(false);
  useEffect(() => {
    if (!blinks) return;
    const timer = setInterval(() => setOther((is) => !is), 1000 * seconds);
    return () => clearInterval(timer);
  }, [blinks, seconds]);
  return blinks && other;
}
