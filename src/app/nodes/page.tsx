import { NodesPage } from "@/ui/nodes/nodes-page";

export default function Page() {
  return <NodesPage />;
}
