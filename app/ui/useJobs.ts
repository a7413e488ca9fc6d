/** Progress of jobs from the server, as it comes; the page's data is loaded again when one ends. */
import { useEffect, useRef, useState } from 'react';
import { useRevalidator } from 'react-router';
import type { JobEvent } from '~/jobs/events';

export function useJobs(): Map<string, JobEvent> {
  const [events, setEvents] = useState<Map<string, JobEvent>>(new Map());
  const revalidator = useRevalidator();
  const revalidate = useRef(revalidator.revalidate);
  revalidate.current = revalidator.revalidate;
  useEffect(() => {
    const source = new EventSource('/events');
    source.onmessage = (message) => {
      const event = JSON.parse(message.data as string) as JobEvent;
      setEvents((old) => new Map(old).set(event.id, event));
      if (event.state !== 'running' || event.progress === 0) void revalidate.current();
    };
    // After a lost connection something may have ended unseen.
    source.onerror = () => source.addEventListener('open', () => void revalidate.current(), { once: true });
    return () => source.close();
  }, []);
  return events;
}
