'use client';
import Box from '@mui/material/Box';
import InputBase from '@mui/material/InputBase';
import { useId, useState } from 'react';
import { fieldFrame } from './field-frame';

interface TextFieldProps {
  label: string;
  value: string;
  /** Why a text cannot be taken, in words; undefined if it can. One that cannot is kept, marked, for mending. */
  problem: (text: string) => string | undefined;
  onTake: (text: string) => void;
  /** Takes the keyboard at once; told when it is left again. */
  autoFocus?: boolean;
  onLeave?: () => void;
}

/** A line of text that is taken with Enter or on leaving it, and given up with Escape. */
export function TextField({ label, value, problem, onTake, autoFocus = false, onLeave }: TextFieldProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const [failure, setFailure] = useState<string>();
  const id = useId();
  const why = typed === null ? undefined : (problem(typed) ?? failure);
  const wrong = why !== undefined;
  /** Takes what is typed; false if it cannot be. */
  const take = (): boolean => {
    if (typed !== null && problem(typed) !== undefined) return false;
    try {
      if (typed !== null && typed !== value) onTake(typed);
    } catch (error) {
      // What the setting itself refuses is said here, too.
      setFailure(error instanceof Error ? error.message : String(error));
      return false;
    }
    setTyped(null);
    return true;
  };
  return (
    <Box sx={{ width: '100%', minWidth: 0 }}>
      <InputBase
        value={typed ?? value}
        autoFocus={autoFocus}
        onChange={(event) => {
          setTyped(event.target.value);
          setFailure(undefined);
        }}
        onFocus={(event) => event.target.select()}
        onBlur={() => {
          if (take()) onLeave?.();
        }}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur();
          else if (event.key === 'Escape') {
            setTyped(null);
            setFailure(undefined);
            onLeave?.();
          } else return;
          event.preventDefault();
          event.stopPropagation();
        }}
        error={wrong}
        inputProps={{
          'aria-label': label,
          'aria-invalid': wrong,
          spellCheck: false,
          ...(wrong && { 'aria-describedby': id }),
        }}
        fullWidth
        sx={{
          ...fieldFrame(wrong),
          input: { p: 0, fontFamily: 'var(--figures)', fontSize: 11 },
        }}
      />
      {wrong && (
        <Box id={id} role="alert" sx={{ fontSize: 11, color: 'error.main', overflowWrap: 'anywhere' }}>
          {why}
        </Box>
      )}
    </Box>
  );
}
