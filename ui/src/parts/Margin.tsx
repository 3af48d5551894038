import { createContext, useContext, type ReactNode } from 'react';
import { createPortal } from 'react-dom';

/** The margin column behind the double rule, where the Effect stands. */
export const MarginPlace = createContext<HTMLElement | null>(null);

/** Shows its children in the Effect of the page. */
export function Margin({ children }: { children: ReactNode }) {
  const place = useContext(MarginPlace);
  return place ? createPortal(children, place) : null;
}
