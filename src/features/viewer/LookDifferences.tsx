'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import Popover from '@mui/material/Popover';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useMemo, useState } from 'react';
import { differenceLabel, differencesOf, differenceText, takeOver } from '../../core/look/differences';
import type { Look } from '../../core/look/look';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { notify, reportError } from '../session';
import { useCompareName } from './compare-name';

/** The settings in which what is shown and what it is held against differ; each value can be taken over. */
export function LookDifferences() {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const against = useDesk((state) => state.against);
  const shownProof = useDesk((state) => state.shownProof);
  const proofs = useShot((state) => state.proofs);
  const present = useShot((state) => state.look);
  const name = useCompareName();
  const lookOf = (id: string | null): Look => proofs.find((proof) => proof.id === id)?.look ?? present;
  const other = lookOf(against.kind === 'proof' ? against.id : null);
  const shown = lookOf(shownProof);
  const rows = useMemo(() => differencesOf(other, shown), [other, shown]);
  const shownName = proofs.find(({ id }) => id === shownProof)?.name ?? 'present look';
  const take = (from: Look, path: string): void => {
    try {
      useShot.getState().setLook(takeOver(useShot.getState().look, from, path));
      notify(`${differenceLabel(path)} was taken over; undo takes it back`, 'success');
    } catch (error) {
      reportError(error);
    }
  };
  return (
    <>
      <Button
        size="small"
        color="inherit"
        aria-haspopup="dialog"
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ fontSize: 11, py: 0 }}
      >
        {rows.length === 1 ? '1 setting differs' : `${rows.length} settings differ`}
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'top', horizontal: 'left' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{
          paper: {
            role: 'dialog',
            'aria-label': 'Settings that differ',
            sx: { width: 560, maxHeight: 420, p: 1.5 },
          },
        }}
      >
        {rows.length === 0 ? (
          <Box sx={{ fontSize: 12, color: 'text.secondary' }}>The two differ in no setting.</Box>
        ) : (
          <Table size="small" sx={{ td: { px: 0.75, fontSize: 12 }, th: { px: 0.75 } }}>
            <TableHead>
              <TableRow>
                <TableCell>Setting</TableCell>
                <TableCell>{name}</TableCell>
                <TableCell>{shownName}</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {rows.map(({ path, a, b }) => (
                <TableRow key={path}>
                  <TableCell title={path}>{differenceLabel(path)}</TableCell>
                  <Value
                    value={differenceText(path, a)}
                    is={other === present}
                    of={`${differenceLabel(path)} of ${name}`}
                    onTake={() => take(other, path)}
                  />
                  <Value
                    value={differenceText(path, b)}
                    is={shown === present}
                    of={`${differenceLabel(path)} of ${shownName}`}
                    onTake={() => take(shown, path)}
                  />
                </TableRow>
              ))}
            </TableBody>
          </Table>
        )}
      </Popover>
    </>
  );
}

interface ValueProps {
  value: string;
  /** Whether it is the present look's. */
  is: boolean;
  of: string;
  onTake: () => void;
}

/** A value; one that is not the present look's can be taken over. */
function Value({ value, is, of, onTake }: ValueProps) {
  const text = value.length > 60 ? `${value.slice(0, 60)}…` : value;
  return (
    <TableCell sx={{ fontFamily: 'var(--figures)', overflowWrap: 'anywhere' }}>
      {text}
      {!is && (
        <ButtonBase
          aria-label={`Take over ${of}`}
          onClick={onTake}
          sx={{
            font: 'inherit',
            fontFamily: 'var(--words, inherit)',
            color: 'primary.main',
            pl: 1,
            minHeight: 24,
          }}
        >
          take over
        </ButtonBase>
      )}
    </TableCell>
  );
}
