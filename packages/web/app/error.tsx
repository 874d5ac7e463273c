'use client';

import { Broken } from '../src/frame/broken';

export default function PageError({ error }: { readonly error: Error }) {
  return <Broken error={error} />;
}
