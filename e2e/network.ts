import { createServer, type Server, type Socket, connect } from 'node:net';

/** A network between browser and server that can be cut: connections break, new ones are refused. */
export class Network {
  readonly #sockets = new Set<Socket>();
  readonly #server: Server;
  #isUp = true;

  private constructor(target: URL) {
    this.#server = createServer((socket) => {
      if (!this.#isUp) {
        socket.destroy();
        return;
      }
      const onward = connect(Number(target.port), target.hostname);
      for (const [one, other] of [
        [socket, onward],
        [onward, socket],
      ]) {
        this.#sockets.add(one);
        one.pipe(other);
        one.on('error', () => other.destroy());
        one.on('close', () => {
          this.#sockets.delete(one);
          other.destroy();
        });
      }
    });
  }

  static open(target: string): Promise<Network> {
    const network = new Network(new URL(target));
    return new Promise((resolve) => network.#server.listen(0, '127.0.0.1', () => resolve(network)));
  }

  get address(): string {
    const address = this.#server.address();
    if (address === null || typeof address === 'string') throw new Error('the network is not open');
    return `http://127.0.0.1:${address.port}`;
  }

  cut(): void {
    this.#isUp = false;
    for (const socket of this.#sockets) socket.destroy();
  }

  mend(): void {
    this.#isUp = true;
  }

  close(): void {
    this.cut();
    this.#server.close();
  }
}
