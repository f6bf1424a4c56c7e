/** Nodes: asks for its facts itself, for they change each second. */
import { NodesPage } from "@/ui/nodes/nodes-page";

export default function Page() {
  return <NodesPage />;
}
