import { StreamClient } from './stream-client.ts';
import { type FromStream, GONE_MILLISECONDS, HERE_MILLISECONDS, type ToStream } from './stream-protocol.ts';

/* The one stream of a browser: all its tabs share it, since a browser opens only six connections to a server. */

interface Tab {
  topics: string[];
  seenAt: number;
}

const tabs = new Map<MessagePort, Tab>();
const client = new StreamClient((message) => {
  for (const [port, tab] of tabs) if (isWanted(tab, message)) port.postMessage(message);
});

function isWanted(tab: Tab, message: FromStream): boolean {
  return message.type !== 'picture' || tab.topics.includes(message.topic);
}

function update(): void {
  if (tabs.size === 0) client.close();
  else client.show([...tabs.values()].flatMap((tab) => tab.topics));
}

globalThis.addEventListener('connect', (event) => {
  const [port] = (event as MessageEvent).ports;
  tabs.set(port, { topics: [], seenAt: Date.now() });
  port.onmessage = ({ data }: MessageEvent<ToStream>) => {
    const tab = tabs.get(port) ?? { topics: [], seenAt: 0 };
    tab.seenAt = Date.now();
    tabs.set(port, tab);
    if (data.type === 'bye') tabs.delete(port);
    if (data.type === 'topics') {
      tab.topics = data.topics;
      for (const message of client.newest) if (isWanted(tab, message)) port.postMessage(message);
    }
    if (data.type !== 'here') update();
  };
  port.start();
  update();
});

setInterval(() => {
  const now = Date.now();
  let isChanged = false;
  for (const [port, tab] of tabs) {
    if (now - tab.seenAt > GONE_MILLISECONDS) isChanged = tabs.delete(port);
  }
  if (isChanged) update();
}, HERE_MILLISECONDS);
