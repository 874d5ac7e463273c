import { Application } from '../src/frame/application';

export default function Page() {
  return <Application />;
}
