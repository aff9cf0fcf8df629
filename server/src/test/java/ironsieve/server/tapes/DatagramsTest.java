package ironsieve.server.tapes;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

class DatagramsTest {

  private static final int LARGE = 60_000;
  private static final int SENT = (int) (2 * Datagrams.MOST_BYTES_WAITING / LARGE);

  private static final InetSocketAddress ANY_PORT =
      new InetSocketAddress(InetAddress.getLoopbackAddress(), 0);

  private static void send(int port, int count, int length) throws IOException {
    try (DatagramSocket socket = new DatagramSocket()) {
      DatagramPacket packet =
          new DatagramPacket(new byte[length], length, InetAddress.getLoopbackAddress(), port);
      for (int i = 0; i < count; i++) {
        socket.send(packet);
      }
    }
  }

  /** While nothing is worked on, more is sent than may wait. */
  @Test
  @Timeout(120)
  void ofWhatIsSentEachIsWorkedOnOrCountedAsLost() throws IOException {
    AtomicLong worked = new AtomicLong();
    CountDownLatch goOn = new CountDownLatch(1);
    Datagrams datagrams =
        new Datagrams(
            ANY_PORT,
            (sender, bytes) -> {
              try {
                goOn.await();
              } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
              }
              worked.incrementAndGet();
            });
    send(datagrams.port(), SENT, LARGE);
    while (datagrams.lost() == 0) {
      Thread.onSpinWait();
    }
    goOn.countDown();
    while (worked.get() + datagrams.lost() < SENT) {
      Thread.onSpinWait();
    }
    datagrams.close();
    assertThat(datagrams.lost()).isPositive();
    assertThat(worked.get() + datagrams.lost()).isEqualTo(SENT);
  }

  @Test
  @Timeout(120)
  void whatCannotBeWorkedOnTakesNothingFromTheOthers() throws IOException {
    AtomicLong worked = new AtomicLong();
    Datagrams datagrams =
        new Datagrams(
            ANY_PORT,
            (sender, bytes) -> {
              if (worked.incrementAndGet() % 2 == 0) {
                throw new IllegalStateException("a datagram that is none");
              }
            });
    send(datagrams.port(), 100, 10);
    while (worked.get() + datagrams.lost() < 100) {
      Thread.onSpinWait();
    }
    datagrams.close();
    assertThat(worked.get() + datagrams.lost()).isEqualTo(100);
  }
}
