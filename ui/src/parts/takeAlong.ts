/** Hands a file that was read to whoever asked for it. */
export function takeAlong(file: unknown, name: string) {
  const a = document.createElement('a');
  a.href = URL.createObjectURL(file as Blob);
  a.download = name;
  a.click();
  setTimeout(() => URL.revokeObjectURL(a.href), 1000);
}
