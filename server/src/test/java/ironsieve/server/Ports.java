package ironsieve.server;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.util.concurrent.ThreadLocalRandom;

/** Ports for what is started by tests, some of which run beside each other. */
public final class Ports {

  // The system gives away those above to whoever asks for any, so that one which has just been free
  // is taken before it is used; nobody is given these.
  private static final int FIRST = 12_000;
  private static final int LAST = 31_999;

  private Ports() {}

  /** A port of loopback that nobody listens on. */
  public static int free() {
    while (true) {
      int port = ThreadLocalRandom.current().nextInt(FIRST, LAST + 1);
      try (ServerSocket socket = new ServerSocket(port, 1, InetAddress.getLoopbackAddress())) {
        return socket.getLocalPort();
      } catch (IOException e) {
        // It is taken.
      }
    }
  }
}
