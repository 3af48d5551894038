import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import { useState, type DragEvent, type ReactNode } from 'react';

/** Says that a file may be dropped here. */
export function overWithFile(e: DragEvent) {
  if (e.dataTransfer.types.includes('Files')) e.preventDefault();
}

const Ground = styled('div')(({ theme }) => ({
  display: 'inline-flex',
  '&[data-over]': { outline: `2px dashed ${theme.vars!.palette.primary.main}`, outlineOffset: 3 },
}));

interface Props {
  accept: string;
  onFile: (file: File) => void;
  children: ReactNode;
}

/** A file: chosen, or dropped on it. */
export function FileField({ accept, onFile, children }: Props) {
  const [over, setOver] = useState(false);
  const take = (files: FileList | null) => {
    setOver(false);
    if (files?.[0]) onFile(files[0]);
  };
  return (
    <Ground
      data-over={over || undefined}
      onDragOver={(e) => {
        overWithFile(e);
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        take(e.dataTransfer.files);
      }}
    >
      <Button component="label" variant="outlined">
        {children}
        <input
          type="file"
          accept={accept}
          hidden
          onChange={(e) => {
            take(e.target.files);
            e.target.value = '';
          }}
        />
      </Button>
    </Ground>
  );
}
