"use client";
/** Everything that surrounds all pages: theme, day and night, cached server data, live messages. */
import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { ThemeProvider } from "next-themes";
import { type ReactNode, useState } from "react";
import { LiveConnection } from "../live/live-connection";
import { EmotionRegistry } from "../theme/emotion-registry";
import { system } from "../theme/system";

/** A page that failed to load asks again this often, so that it recovers by itself. */
const RECOVER_MS = 2_000;

const makeClient = (): QueryClient =>
  new QueryClient({
    defaultOptions: {
      queries: {
        retry: false,
        // News say what to ask again; nothing is asked again merely because time went by.
        staleTime: Infinity,
        refetchOnWindowFocus: false,
        refetchInterval: (query) => (query.state.status === "error" ? RECOVER_MS : false),
      },
    },
  });

/** One query client a tab; the server makes one for each answer, so that no two people share one. */
export function AppProvider({
  nonce,
  children,
}: {
  /** For the script that sets day or night before the page is drawn. */
  readonly nonce: string;
  readonly children: ReactNode;
}) {
  const [client] = useState(makeClient);
  return (
    <EmotionRegistry>
      <ChakraProvider value={system}>
        <ThemeProvider attribute="class" defaultTheme="system" disableTransitionOnChange nonce={nonce}>
          <QueryClientProvider client={client}>
            <LiveConnection />
            {children}
          </QueryClientProvider>
        </ThemeProvider>
      </ChakraProvider>
    </EmotionRegistry>
  );
}
