/** What every page stands in: the language, the theme and the one stream of news. */
import "@fontsource-variable/atkinson-hyperlegible-mono";
import "@fontsource-variable/atkinson-hyperlegible-next";
import type { Metadata } from "next";
import { headers } from "next/headers";
import os from "node:os";
import type { ReactNode } from "react";
import { AppProvider } from "@/ui/page/provider";

export const metadata: Metadata = {
  title: "Plain Tally",
  description: "Plans and runs frame-range renders and keeps the tally of their frames.",
};

/** What people here are called until they say; a container may have no account for its number. */
function account(): string | undefined {
  try {
    const { username } = os.userInfo();
    return username === "root" ? undefined : username;
  } catch {
    return undefined;
  }
}

export default async function RootLayout({ children }: { readonly children: ReactNode }) {
  // The sign that an inline script must bear (proxy.ts).
  const nonce = (await headers()).get("x-nonce") ?? "";
  return (
    // next-themes sets the class before React is there.
    <html lang="en" data-account={account()} suppressHydrationWarning>
      <body>
        <AppProvider nonce={nonce}>{children}</AppProvider>
      </body>
    </html>
  );
}
