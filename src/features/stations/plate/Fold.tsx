'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { useSought } from '../../controls';

interface FoldProps {
  title: string;
  /** Settings in it: it unfolds when one of them is looked for. */
  paths: readonly string[];
  children: React.ReactNode;
}

/** A part of a group that is seldom looked at. */
export function Fold({ title, paths, children }: FoldProps) {
  const isSought = useSought(paths);
  const [open, setOpen] = useState(false);
  const isOpen = open || isSought;
  return (
    <Box>
      <Button
        size="small"
        color="inherit"
        aria-expanded={isOpen}
        onClick={() => setOpen(!isOpen)}
        sx={{ fontSize: 11, color: 'text.secondary', px: 0 }}
      >
        {isOpen ? `Hide ${title.toLowerCase()}` : `${title}…`}
      </Button>
      {isOpen && children}
    </Box>
  );
}
