package ironsieve.server.tapes;

import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetSocketAddress;
import java.net.StandardSocketOptions;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.BiConsumer;
import org.jboss.logging.Logger;

/**
 * Datagrams as they come: one thread does nothing but read them, and another one works on them, so
 * that work never keeps the system's buffer full. Whatever was lost all the same is counted: what
 * found the queue full here, and what the system dropped by its own counters.
 */
final class Datagrams {

  private static final Logger LOG = Logger.getLogger("ironsieve");
  private static final int LARGEST = 65_535;
  private static final int MOST_WAITING = 200_000;

  /** Bytes that may wait; large datagrams would fill the memory long before they are so many. */
  static final long MOST_BYTES_WAITING = 64L << 20;

  /** As much as the system gives of this. */
  private static final int BUFFER = 64 << 20;

  private record Datagram(String sender, byte[] bytes) {}

  private final DatagramSocket socket;
  private final BlockingQueue<Datagram> waiting = new ArrayBlockingQueue<>(MOST_WAITING);
  private final AtomicLong bytesWaiting = new AtomicLong();
  private final AtomicLong overflow = new AtomicLong();
  private final BiConsumer<String, byte[]> work;
  private final Thread worker;
  private volatile boolean isClosed;
  private volatile long droppedBySystem;

  /**
   * Listens from now on.
   *
   * @param at port 0 for any that is free
   * @param work is given the sender's address and the bytes of each
   * @throws IOException if nothing can listen there
   */
  Datagrams(InetSocketAddress at, BiConsumer<String, byte[]> work) throws IOException {
    this.work = work;
    socket = new DatagramSocket(null);
    socket.setOption(StandardSocketOptions.SO_RCVBUF, BUFFER);
    socket.bind(at);
    start(this::read, "datagrams");
    worker = start(this::work, "datagrams work");
  }

  private static Thread start(Runnable run, String name) {
    Thread thread = new Thread(run, name);
    thread.setDaemon(true);
    thread.start();
    return thread;
  }

  int port() {
    return socket.getLocalPort();
  }

  private void read() {
    byte[] buffer = new byte[LARGEST];
    DatagramPacket packet = new DatagramPacket(buffer, buffer.length);
    while (!isClosed) {
      try {
        packet.setLength(buffer.length);
        socket.receive(packet);
        byte[] bytes = Arrays.copyOf(buffer, packet.getLength());
        if (!keep(new Datagram(packet.getAddress().getHostAddress(), bytes))) {
          overflow.incrementAndGet();
        }
      } catch (IOException e) {
        if (!isClosed) {
          LOG.warnf("a datagram could not be read: %s", e.getMessage());
        }
      }
    }
  }

  /** Lets a datagram wait to be worked on; false if there are too many, or too large ones. */
  private boolean keep(Datagram next) {
    if (bytesWaiting.get() + next.bytes().length > MOST_BYTES_WAITING || !waiting.offer(next)) {
      return false;
    }
    bytesWaiting.addAndGet(next.bytes().length);
    return true;
  }

  private void work() {
    try {
      while (!isClosed || !waiting.isEmpty()) {
        Datagram next = waiting.poll(200, TimeUnit.MILLISECONDS);
        if (next != null) {
          bytesWaiting.addAndGet(-next.bytes().length);
          worked(next);
        }
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  /** One that cannot be worked on takes nothing from the others. */
  private void worked(Datagram next) {
    try {
      work.accept(next.sender(), next.bytes());
    } catch (RuntimeException e) {
      LOG.warn("a datagram could not be worked on", e);
    }
  }

  /** How many datagrams for this port were lost so far. */
  long lost() {
    if (!isClosed) {
      droppedBySystem = dropped(socket.getLocalPort());
    }
    return overflow.get() + droppedBySystem;
  }

  /**
   * What the system dropped of those for a port, where it says so: the last column of its table.
   */
  private static long dropped(int port) {
    long dropped = 0;
    for (String table : List.of("/proc/net/udp", "/proc/net/udp6")) {
      try {
        for (String line : Files.readAllLines(Path.of(table), StandardCharsets.US_ASCII)) {
          String[] cells = line.trim().split("\\s+");
          if (cells.length > 12 && cells[1].endsWith(String.format(":%04X", port))) {
            dropped += Long.parseLong(cells[cells.length - 1]);
          }
        }
      } catch (IOException | NumberFormatException e) {
        LOG.debugf("%s says nothing of what was dropped", table);
      }
    }
    return dropped;
  }

  /** Listens no more; what came in is worked on before this returns, if that takes no minute. */
  void close() {
    lost();
    isClosed = true;
    socket.close();
    try {
      worker.join(TimeUnit.MINUTES.toMillis(1));
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }
}
