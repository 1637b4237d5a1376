'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useEffect, useState, type ComponentProps, type ComponentType } from 'react';
import type Plot from './plotly';

type ChartComponent = ComponentType<ComponentProps<typeof Plot>>;

let loaded: ChartComponent | undefined;

/** Fetches the charts' code, so that they are there when the network is not. Fails if it cannot be had. */
export async function loadCharts(): Promise<ChartComponent> {
  loaded ??= (await import('./plotly')).default as ChartComponent;
  return loaded;
}

/** A Plotly chart, whose code is fetched when it is first needed. If that fails it can be tried again. */
export function Chart(props: ComponentProps<ChartComponent>) {
  const [Loaded, setLoaded] = useState<ChartComponent | undefined>(() => loaded);
  const [tries, setTries] = useState(0);
  const [hasFailed, setHasFailed] = useState(false);
  useEffect(() => {
    if (Loaded) return;
    let alive = true;
    loadCharts().then(
      (component) => alive && setLoaded(() => component),
      () => alive && setHasFailed(true),
    );
    return () => {
      alive = false;
    };
  }, [Loaded, tries]);
  if (Loaded) return <Loaded {...props} />;
  if (!hasFailed) return null;
  return (
    <Box role="alert" sx={{ py: 1, fontSize: 11, color: 'text.secondary' }}>
      The chart cannot be fetched: the server does not answer.{' '}
      <Button
        size="small"
        color="inherit"
        onClick={() => {
          setHasFailed(false);
          setTries(tries + 1);
        }}
      >
        Try again
      </Button>
    </Box>
  );
}
