'use client';

import { formatAddress } from '@gentle-compass/core/prefix/address';
import { useStore } from '../model/state';
import { areaName } from './words';

/** What the routers call an area; empty where it has no name. */
export const useAreaCalled = (id: string): string => useStore((s) => s.view?.areas.find((a) => a.id === id)?.name ?? '');

/** An area by its id and, where it has one, its name. */
export function AreaName({ id, quiet = false }: { readonly id: string | number; readonly quiet?: boolean }) {
  const dotted = typeof id === 'number' ? formatAddress(id) : id;
  const called = useAreaCalled(dotted);
  return (
    <>
      {quiet ? areaName(dotted).toLowerCase() : areaName(dotted)}
      {called !== '' && <span className="text-ink2"> {called}</span>}
    </>
  );
}

/** The same inside a sentence. */
export function useAreaInWords(): (id: string) => string {
  const words = useAreaWords();
  return (id) => words(id).replace(/^(Area|Backbone)/, (w) => (w === 'Area' ? 'area' : 'the backbone'));
}

/** The same as words, for lists that take nothing else. */
export function useAreaWords(): (id: string) => string {
  const areas = useStore((s) => s.view?.areas);
  return (id) => {
    const called = areas?.find((a) => a.id === id)?.name ?? '';
    return called === '' ? areaName(id) : `${areaName(id)}, ${called}`;
  };
}
