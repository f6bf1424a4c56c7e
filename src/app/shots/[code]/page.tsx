import { Suspense } from "react";
import { ShotPage } from "@/ui/shot-page/shot-page";

export default async function Page({ params }: { readonly params: Promise<{ code: string }> }) {
  const { code } = await params;
  return (
    <Suspense>
      <ShotPage code={decodeURIComponent(code)} />
    </Suspense>
  );
}
