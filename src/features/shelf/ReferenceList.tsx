'use client';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import { useState } from 'react';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { removeReference, usePlates } from '../session';
import { CornerButton, EditableName, Tile } from './parts';

/** The photographs that the picture is held against; the chosen one stands beside it. */
export function ReferenceList() {
  const references = useShot((state) => state.references);
  const setReferences = useShot((state) => state.setReferences);
  const open = usePlates((state) => state.references);
  const chosen = useDesk(({ compare, against }) =>
    compare !== null && against.kind === 'reference' ? against.id : null,
  );
  const set = useDesk((state) => state.set);
  const failures = usePlates((state) => state.failures);
  const [renamed, setRenamed] = useState<string | null>(null);
  return references.map(({ id, name }) => (
    <Box key={id} sx={{ position: 'relative', mb: 1 }}>
      <Tile
        kind="Reference"
        name={name}
        active={chosen === id}
        bitmap={open[id]?.thumbnail}
        onPick={() =>
          set(chosen === id ? { compare: null } : { against: { kind: 'reference', id }, compare: 'beside' })
        }
        onRename={() => setRenamed(id)}
        failure={failures[id]?.line}
      />
      <EditableName
        name={name}
        open={renamed === id}
        setOpen={(open) => setRenamed(open ? id : null)}
        onRename={(next) =>
          setReferences(references.map((one) => (one.id === id ? { ...one, name: next } : one)))
        }
      />
      <CornerButton label={`Remove ${name}`} onClick={() => removeReference(id)}>
        <Close sx={{ fontSize: 14 }} />
      </CornerButton>
    </Box>
  ));
}
