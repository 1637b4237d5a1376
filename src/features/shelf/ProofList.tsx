'use client';
import MoreVert from '@mui/icons-material/MoreVert';
import Box from '@mui/material/Box';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useEffect, useState } from 'react';
import type { Proof } from '../../core/shot/shot';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { TextField } from '../common';
import { editProof, proofThumbnail, putBack, removeProof } from '../session';
import { CornerButton, EditableName, Tile } from './parts';

/** The looks that were saved, the newest first; a click holds the picture against one. */
export function ProofList() {
  const proofs = useShot((state) => state.proofs);
  return proofs.toReversed().map((proof) => <ProofTile key={proof.id} proof={proof} />);
}

const WHEN = new Intl.DateTimeFormat(undefined, { dateStyle: 'short', timeStyle: 'short' });

function useThumbnail(proof: Proof): ImageBitmap | undefined {
  const [bitmap, setBitmap] = useState<ImageBitmap>();
  const id = proof.picture?.id;
  useEffect(() => {
    let alive = true;
    // Without its picture, the proof's look is still there.
    proofThumbnail(proof).then(
      (made) => alive && setBitmap(made),
      () => undefined,
    );
    return () => {
      alive = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id]);
  return bitmap;
}

function ProofTile({ proof }: { proof: Proof }) {
  const { id, name, note, time } = proof;
  const thumbnail = useThumbnail(proof);
  const set = useDesk((state) => state.set);
  const active = useDesk(
    ({ compare, against }) => compare !== null && against.kind === 'proof' && against.id === id,
  );
  const [renaming, setRenaming] = useState(false);
  const [noting, setNoting] = useState(false);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const pick = (action: () => void) => () => {
    setAnchor(null);
    action();
  };
  const compare = (mode: 'wipe' | null): void =>
    set(mode ? { compare: mode, against: { kind: 'proof', id } } : { compare: null });
  return (
    <Box sx={{ position: 'relative', mb: 1 }}>
      <Tile
        kind="Proof"
        name={name}
        active={active}
        bitmap={thumbnail}
        onPick={() => compare(active ? null : 'wipe')}
        onRename={() => setRenaming(true)}
        failure={proof.picture ? undefined : 'its picture is lost; the look is still there'}
      />
      <EditableName
        name={name}
        open={renaming}
        setOpen={setRenaming}
        onRename={(next) => editProof(id, { name: next })}
      />
      {noting ? (
        <TextField
          label={`Note on ${name}`}
          value={note}
          autoFocus
          problem={(text) => (text.length <= 2000 ? undefined : 'up to 2000 letters')}
          onTake={(text) => editProof(id, { note: text.trim() })}
          onLeave={() => setNoting(false)}
        />
      ) : (
        <Box sx={{ fontSize: 11, color: 'text.secondary', overflowWrap: 'anywhere' }}>
          {note && <Box>{note}</Box>}
          {WHEN.format(time)}
        </Box>
      )}
      <CornerButton label={`More of ${name}`} menu onClick={(event) => setAnchor(event.currentTarget)}>
        <MoreVert sx={{ fontSize: 14 }} />
      </CornerButton>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem dense onClick={pick(() => putBack(proof))}>
          Put its look back
        </MenuItem>
        <MenuItem dense onClick={pick(() => compare('wipe'))}>
          Hold the picture against it
        </MenuItem>
        <MenuItem dense onClick={pick(() => setNoting(true))}>
          {note ? 'Change the note…' : 'Write a note…'}
        </MenuItem>
        <MenuItem dense onClick={pick(() => removeProof(id))}>
          Remove
        </MenuItem>
      </Menu>
    </Box>
  );
}
