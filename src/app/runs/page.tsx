import { RunsPage } from "@/ui/runs/runs-page";

export default function Page() {
  return <RunsPage />;
}
