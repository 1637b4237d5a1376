'use client';
import Box from '@mui/material/Box';
import { createContext, useContext } from 'react';
import { useDropzone } from 'react-dropzone';
import { takeFiles } from './session';

const Chooser = createContext<() => void>(() => undefined);

/** Opens the file chooser of the nearest {@link FileDrop}. */
export function useFileChooser(): () => void {
  return useContext(Chooser);
}

/** Takes files that are dropped anywhere on the application or chosen from a dialog. */
export function FileDrop({ children }: { children: React.ReactNode }) {
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    noClick: true,
    noKeyboard: true,
    onDrop: (files) => void takeFiles(files),
  });
  return (
    <Chooser value={open}>
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
            Drop renders to bring them in, or a shot file to open it
          </Box>
        )}
      </Box>
    </Chooser>
  );
}
