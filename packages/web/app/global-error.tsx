'use client';

import { Broken } from '../src/frame/broken';
import './globals.css';

export default function GlobalError({ error }: { readonly error: Error }) {
  return (
    <html lang="en">
      <body>
        <Broken error={error} />
      </body>
    </html>
  );
}
