'use client';

import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { useState } from 'react';
import { Toaster } from 'sonner';

export function Providers({ children }: { children: ReactNode }) {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } } }));
  return (
    <QueryClientProvider client={client}>
      {children}
      <Toaster
        position="bottom-left"
        toastOptions={{
          style: {
            borderRadius: 4,
            font: '14px/1.5 var(--font-sans)',
            background: 'var(--paper)',
            color: 'var(--ink)',
            borderColor: 'var(--edge)',
          },
          actionButtonStyle: {
            background: 'none',
            color: 'var(--pine)',
            font: '700 14px/1.5 var(--font-sans)',
            textDecoration: 'underline',
          },
        }}
      />
    </QueryClientProvider>
  );
}
