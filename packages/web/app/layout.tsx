import type { Metadata } from 'next';
import type { ReactNode } from 'react';
import '@fontsource-variable/newsreader/index.css';
import '@fontsource-variable/newsreader/wght-italic.css';
import '@fontsource-variable/source-sans-3/index.css';
import '@fontsource/ibm-plex-mono/400.css';
import '@fontsource/ibm-plex-mono/600.css';
import './globals.css';

/** Drawn for each request: its scripts carry the nonce of that answer. */
export const dynamic = 'force-dynamic';

export const metadata: Metadata = {
  title: 'Gentle Compass',
  description: 'Designs multi-area OSPF campuses, checks what routers must agree on, and predicts every route.',
};

export default function RootLayout({ children }: { readonly children: ReactNode }) {
  return (
    <html lang="en" suppressHydrationWarning>
      <body>{children}</body>
    </html>
  );
}
