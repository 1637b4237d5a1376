'use client';
import Button from '@mui/material/Button';
import { useRef } from 'react';

interface FileButtonProps {
  label: string;
  /** What the file is, for readers. */
  name: string;
  /** Endings that are offered: `.json` */
  accept: string;
  onFile: (file: File) => void;
}

/** A quiet button that asks for one file. */
export function FileButton({ label, name, accept, onFile }: FileButtonProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button
        size="small"
        color="inherit"
        onClick={() => input.current?.click()}
        sx={{ color: 'text.secondary' }}
      >
        {label}
      </Button>
      <input
        ref={input}
        type="file"
        hidden
        accept={accept}
        aria-label={name}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = '';
          if (file) onFile(file);
        }}
      />
    </>
  );
}
