import { HelpPage } from "@/ui/help/help-page";

export default function Page() {
  return <HelpPage />;
}
