import { SettingsPage } from "@/ui/settings/settings-page";

export default function Page() {
  return <SettingsPage />;
}
