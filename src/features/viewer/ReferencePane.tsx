'use client';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import { useEffect, useState } from 'react';
import { benchEngine, EngineError, unwrap } from '../../engine/browser/client';
import type { Setting } from '../../core/settings/setting';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { BitmapPicture } from '../common';
import { NumberField } from '../controls';
import { reportError, referenceId, REFERENCE_LOOK, usePlates } from '../session';

/** The wider side of what is computed of a reference, in pixels. */
const SHOWN_SIDE = 1200;

const EXPOSURE: Setting & { kind: 'number' } = {
  kind: 'number',
  path: 'exposure',
  group: 'Reference',
  label: 'exposure',
  help: 'Exposure of the reference alone',
  unit: 'stops',
  min: -20,
  max: 20,
  step: 0.1,
  default: 0,
  scale: 'linear',
  shown: { factor: 1, unit: 'st', digits: 1 },
};

/** The chosen reference beside the picture, under its own exposure and the film's view. */
export function ReferencePane() {
  const id = useDesk((state) => state.reference);
  const set = useDesk((state) => state.set);
  const reference = useShot((state) => state.references.find((one) => one.id === id));
  const references = useShot((state) => state.references);
  const setReferences = useShot((state) => state.setReferences);
  const view = useShot((state) => state.look.film.view);
  const open = usePlates((state) => (id ? state.references[id] : undefined));
  const [bitmap, setBitmap] = useState<ImageBitmap | null>(null);
  const exposure = reference?.exposure ?? 0;

  useEffect(() => {
    if (!id || !open) return;
    let alive = true;
    const look = { ...REFERENCE_LOOK, film: { ...REFERENCE_LOOK.film, view } };
    const scale = Math.min(1, SHOWN_SIDE / Math.max(open.width, open.height));
    const request = {
      lane: 'reference' as const,
      plate: referenceId(id),
      look,
      scale,
      subject: { kind: 'final' as const },
      viewExposure: exposure,
    };
    void (async () => {
      try {
        const shown = unwrap(await benchEngine().show(request));
        if (alive) setBitmap(shown.bitmap);
      } catch (error) {
        if (!(error instanceof EngineError && error.failure.kind === 'cancelled')) reportError(error);
      }
    })();
    return () => {
      alive = false;
    };
  }, [id, open, exposure, view]);

  if (!reference) return null;
  return (
    <Box
      component="section"
      aria-label={`Reference ${reference.name}`}
      sx={{
        flex: 1,
        minWidth: 0,
        display: 'flex',
        flexDirection: 'column',
        borderLeft: '1px solid',
        borderColor: 'divider',
        bgcolor: 'canvas.main',
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, px: 1, height: 32, fontSize: 11 }}>
        <Box sx={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
          {reference.name}
        </Box>
        <Box sx={{ width: 84 }}>
          <NumberField
            setting={EXPOSURE}
            value={exposure}
            onChange={(next) =>
              setReferences(references.map((one) => (one.id === id ? { ...one, exposure: next } : one)))
            }
          />
        </Box>
        <IconButton size="small" aria-label="Put the reference away" onClick={() => set({ reference: null })}>
          <Close sx={{ fontSize: 14 }} />
        </IconButton>
      </Box>
      <Box sx={{ flex: 1, minHeight: 0, p: 1, display: 'flex', alignItems: 'center' }}>
        {bitmap && <BitmapPicture bitmap={bitmap} label={`Reference ${reference.name}`} fill />}
      </Box>
    </Box>
  );
}
