'use client';
import InputBase from '@mui/material/InputBase';
import { useState } from 'react';
import { fieldFrame } from './field-frame';

interface TextFieldProps {
  label: string;
  value: string;
  /** Whether a text can be taken; one that cannot is marked and given up. */
  fits: (text: string) => boolean;
  onTake: (text: string) => void;
  /** Takes the keyboard at once; told when it is left again. */
  autoFocus?: boolean;
  onLeave?: () => void;
}

/** A line of text that is taken with Enter or on leaving it, and given up with Escape. */
export function TextField({ label, value, fits, onTake, autoFocus = false, onLeave }: TextFieldProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const wrong = typed !== null && !fits(typed);
  return (
    <InputBase
      value={typed ?? value}
      autoFocus={autoFocus}
      onChange={(event) => setTyped(event.target.value)}
      onFocus={(event) => event.target.select()}
      onBlur={() => {
        if (typed !== null && !wrong && typed !== value) onTake(typed);
        setTyped(null);
        onLeave?.();
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        else if (event.key === 'Escape') {
          setTyped(null);
          onLeave?.();
        } else return;
        event.preventDefault();
        event.stopPropagation();
      }}
      error={wrong}
      inputProps={{ 'aria-label': label, 'aria-invalid': wrong, spellCheck: false }}
      fullWidth
      sx={{
        ...fieldFrame(wrong),
        input: { p: 0, fontFamily: 'var(--figures)', fontSize: 11 },
      }}
    />
  );
}
