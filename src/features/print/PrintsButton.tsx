'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Popover from '@mui/material/Popover';
import { useEffect, useState } from 'react';
import type { PrintRecord } from '../../core/print/print-record';
import { reportError } from '../session';
import {
  cancelLocalPrint,
  continuePrint,
  finishWithout,
  forgetPrint,
  isPrinting,
  pausePrint,
} from './local-print';
import { usePrints, type LocalPrintState } from './prints-store';
import {
  isHandingOver,
  lookForServerPrints,
  removeServerPrint,
  retryServerPrint,
  zipAddress,
} from './server-prints';

/** What is printed by this page and by the server; gone while there is nothing. */
export function PrintsButton() {
  const local = usePrints((state) => state.local);
  const server = usePrints((state) => state.server);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  useEffect(() => {
    void lookForServerPrints();
    const leave = (event: BeforeUnloadEvent): void => {
      if (isPrinting() || isHandingOver()) event.preventDefault();
    };
    window.addEventListener('beforeunload', leave);
    return () => window.removeEventListener('beforeunload', leave);
  }, []);
  const count = local.length + server.length;
  if (count === 0) return null;
  const busy = [...local, ...server].filter(
    ({ state }) => state === 'printing' || state === 'waiting',
  ).length;
  return (
    <>
      <Button
        color="inherit"
        aria-label={`List of prints: ${count}, ${busy} at work`}
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ color: busy > 0 ? 'primary.main' : 'text.secondary' }}
      >
        {busy > 0 ? `Printing ${busy}` : `Prints ${count}`}
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{ paper: { 'aria-label': 'Prints', role: 'region' } }}
      >
        <Box sx={{ width: 400, maxHeight: 480, overflowY: 'auto', p: 1.5 }}>
          {local.map((print) => (
            <LocalRow key={print.id} print={print} />
          ))}
          {server.map((print) => (
            <ServerRow key={print.id} print={print} />
          ))}
        </Box>
      </Popover>
    </>
  );
}

interface RowProps {
  name: string;
  where: string;
  line: string;
  share: number | null;
  failures: readonly { frame: number; why: string }[];
  why: string | null;
  children: React.ReactNode;
}

function Row({ name, where, line, share, failures, why, children }: RowProps) {
  return (
    <Box sx={{ pb: 1.25, mb: 1.25, borderBottom: '1px solid', borderColor: 'divider', fontSize: 12 }}>
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Box sx={{ flex: 1, minWidth: 0, overflowWrap: 'anywhere' }}>{name}</Box>
        <Box sx={{ color: 'text.secondary' }}>{where}</Box>
      </Box>
      {share !== null && (
        <LinearProgress
          variant="determinate"
          value={100 * share}
          aria-label={`Progress of ${name}`}
          sx={{ my: 0.75 }}
        />
      )}
      <Box sx={{ color: 'text.secondary', fontFamily: 'var(--figures)', fontSize: 11 }}>{line}</Box>
      {why && <Box sx={{ color: 'error.main', overflowWrap: 'anywhere' }}>{why}</Box>}
      {failures.slice(0, 8).map(({ frame, why: reason }) => (
        <Box key={frame} sx={{ color: 'error.main', overflowWrap: 'anywhere' }}>
          frame {frame}: {reason}
        </Box>
      ))}
      {failures.length > 8 && <Box sx={{ color: 'error.main' }}>and {failures.length - 8} more</Box>}
      <Box sx={{ display: 'flex', gap: 1, pt: 0.5 }}>{children}</Box>
    </Box>
  );
}

function Act({ label, onClick, href }: { label: string; onClick?: () => unknown; href?: string }) {
  return (
    <Button
      size="small"
      variant="outlined"
      color="inherit"
      {...(href ? { href } : {})}
      onClick={() => {
        if (onClick) Promise.resolve(onClick()).catch(reportError);
      }}
      sx={{ fontSize: 11, py: 0 }}
    >
      {label}
    </Button>
  );
}

const timeText = (milliseconds: number): string => {
  const seconds = Math.round(milliseconds / 1000);
  return seconds < 90 ? `${seconds} s` : `${Math.round(seconds / 60)} min`;
};

function LocalRow({ print }: { print: LocalPrintState }) {
  const { id, name, where, frames, done, failed, state, pace, why } = print;
  const left = frames.length - done - failed.length;
  const rest = pace !== null && state === 'printing' ? `, ${timeText(pace * left)} left` : '';
  const isOver = state === 'done' || state === 'failed' || state === 'cancelled';
  return (
    <Row
      name={name}
      where={where}
      line={`${state}: ${done} of ${frames.length}${failed.length > 0 ? `, ${failed.length} failed` : ''}${rest}`}
      share={isOver ? null : (done + failed.length) / frames.length}
      failures={failed}
      why={why}
    >
      {state === 'printing' && <Act label="Pause" onClick={() => pausePrint(id)} />}
      {state === 'paused' && <Act label="Go on" onClick={() => continuePrint(id)} />}
      {!isOver && <Act label="Cancel" onClick={() => cancelLocalPrint(id)} />}
      {state === 'failed' && failed.length > 0 && (
        <>
          <Act label="Print these again" onClick={() => continuePrint(id)} />
          <Act label="Finish without them" onClick={() => finishWithout(id)} />
        </>
      )}
      {isOver && <Act label="Take off the list" onClick={() => forgetPrint(id)} />}
    </Row>
  );
}

function ServerRow({ print }: { print: PrintRecord }) {
  const { id, options, state, frames, told, begun, why } = print;
  const failures = told.flatMap(({ frame, status, why: reason }) =>
    status === 'failed' ? [{ frame, why: reason ?? '' }] : [],
  );
  const done = told.length - failures.length;
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (state !== 'printing') return;
    const timer = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(timer);
  }, [state]);
  const pace = begun !== null && done > 0 ? (now - begun) / done : null;
  const rest =
    state === 'printing' && pace !== null
      ? `, ${timeText(Math.max(0, pace * (frames.length - done)))} left`
      : '';
  const isOver = state === 'done' || state === 'failed' || state === 'cancelled';
  return (
    <Row
      name={options.name}
      where="on the server"
      line={`${state}: ${done} of ${frames.length}${failures.length > 0 ? `, ${failures.length} failed` : ''}${rest}`}
      share={isOver || frames.length === 0 ? null : told.length / frames.length}
      failures={failures}
      why={failures.length > 0 ? null : why}
    >
      {isOver && done > 0 && <Act label="Fetch the frames" href={zipAddress(id)} />}
      {state === 'failed' && <Act label="Print these again" onClick={() => retryServerPrint(id)} />}
      <Act label={isOver ? 'Remove from the server' : 'Cancel'} onClick={() => removeServerPrint(id)} />
    </Row>
  );
}
