import { ShotsPage } from "@/ui/shots/shots-page";

export default function Page() {
  return <ShotsPage />;
}
