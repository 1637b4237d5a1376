'use client';
import Box from '@mui/material/Box';
import { createContext, useCallback, useContext, useRef } from 'react';
import { useDropzone } from 'react-dropzone';
import { useShot } from '../../state/shot-store';
import { takeFiles, type Purpose } from './session';

const Chooser = createContext<(purpose?: Purpose) => void>(() => undefined);

/** Opens the file chooser of the nearest {@link FileDrop}, for plates unless something else is said. */
export function useFileChooser(): (purpose?: Purpose) => void {
  return useContext(Chooser);
}

/** What files are wanted for by where they are dropped: beside the picture, or over it as its elements. */
function purposeOfDrop(target: EventTarget | null): Purpose | undefined {
  const place = target instanceof Element ? target.closest<HTMLElement>('[data-drop]') : null;
  const { activePlate } = useShot.getState();
  if (place?.dataset['drop'] === 'references') return { kind: 'references' };
  if (place?.dataset['drop'] === 'elements' && activePlate) return { kind: 'element', plate: activePlate };
  return undefined;
}

/** Takes files and folders that are dropped anywhere on the application, and files chosen from a dialog. */
export function FileDrop({ children }: { children: React.ReactNode }) {
  const purpose = useRef<Purpose>({ kind: 'plates' });
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    noClick: true,
    noKeyboard: true,
    onDrop: (files, _, event) => {
      const wanted = purposeOfDrop(event.target) ?? purpose.current;
      purpose.current = { kind: 'plates' };
      void takeFiles(files, wanted);
    },
    onFileDialogCancel: () => (purpose.current = { kind: 'plates' }),
  });
  const choose = useCallback(
    (wanted: Purpose = { kind: 'plates' }) => {
      purpose.current = wanted;
      open();
    },
    [open],
  );
  return (
    <Chooser value={choose}>
      <Box {...getRootProps()} sx={{ height: '100%', position: 'relative' }}>
        <input {...getInputProps()} data-testid="file-input" aria-label="Choose renders or a shot file" />
        {children}
        {isDragActive && (
          <Box
            sx={{
              position: 'absolute',
              inset: 8,
              zIndex: 1300,
              display: 'grid',
              placeItems: 'center',
              border: '2px dashed',
              borderColor: 'primary.main',
              borderRadius: 1,
              bgcolor: 'rgba(22, 22, 22, 0.8)',
              pointerEvents: 'none',
            }}
          >
            Drop renders or a folder of passes to bring them in, or a shot file to open it
          </Box>
        )}
      </Box>
    </Chooser>
  );
}
