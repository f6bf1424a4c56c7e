/** The HTTP interface, to be read. */
import { InterfacePage } from "@/ui/interface/interface-page";

export default function Page() {
  return <InterfacePage />;
}
