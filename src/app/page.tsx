import { Shell } from '../features/shell';

export default function Page() {
  return <Shell />;
}
