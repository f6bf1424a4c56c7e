/** What every page stands in: the language, the theme and the one stream of news. */
import "@fontsource-variable/atkinson-hyperlegible-mono";
import "@fontsource-variable/atkinson-hyperlegible-next";
import type { Metadata } from "next";
import type { ReactNode } from "react";
import { AppProvider } from "@/ui/page/provider";

export const metadata: Metadata = {
  title: "Plain Tally",
  description: "Plans and runs frame-range renders and keeps the tally of their frames.",
};

export default function RootLayout({ children }: { readonly children: ReactNode }) {
  return (
    // next-themes sets the class before React is there.
    <html lang="en" suppressHydrationWarning>
      <body>
        <AppProvider>{children}</AppProvider>
      </body>
    </html>
  );
}
