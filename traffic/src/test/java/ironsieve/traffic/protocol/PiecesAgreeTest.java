package ironsieve.traffic.protocol;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.model.Service;
import ironsieve.region.Address;
import ironsieve.traffic.capture.CaptureReader;
import ironsieve.traffic.capture.Packet;
import ironsieve.traffic.flow.Flow;
import ironsieve.traffic.flow.FlowObserver;
import ironsieve.traffic.flow.FlowTable;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;

/** However a stream is cut into pieces, it shows the same. */
class PiecesAgreeTest {

  private static final KeyLog KEYS = new KeyLog();
  private static final List<Talked> TALKED = new ArrayList<>();

  /** What was said in a connection, each side's words as they came. */
  private record Talked(Service service, Address server, List<Said> said) {}

  private record Said(boolean byClient, byte[] bytes) {}

  static {
    try (InputStream in =
            Files.newInputStream(Path.of("..", "demo", "captures", "autumn weeks.pcapng.gz"));
        CaptureReader reader = CaptureReader.open(in, KEYS::add)) {
      FlowTable<Talked> flows = new FlowTable<>(new Listener());
      Packet packet = new Packet();
      while (reader.next(packet)) {
        flows.packet(packet);
      }
      flows.finish();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static final class Listener implements FlowObserver<Talked> {
    @Override
    public void onBytes(Flow<Talked> flow, boolean byClient, byte[] bytes, int offset, int length) {
      if (flow.kept() == null) {
        flow.keep(new Talked(flow.service(), flow.server(), new ArrayList<>()));
      }
      flow.kept()
          .said()
          .add(new Said(byClient, java.util.Arrays.copyOfRange(bytes, offset, offset + length)));
    }

    @Override
    public void lost(Flow<Talked> flow, boolean byClient) {
      throw new IllegalStateException("nothing is missing in the demo's capture");
    }

    @Override
    public boolean isFull() {
      return false;
    }

    @Override
    public void ended(Flow<Talked> flow) {
      if (flow.kept() != null && flow.protocol() == Service.TCP) {
        TALKED.add(flow.kept());
      }
    }
  }

  @Property(tries = 1500)
  void inPiecesOfAnySizeAConversationShowsTheSame(@ForAll long seed) {
    Random random = new Random(seed);
    Talked talked = TALKED.get(random.nextInt(TALKED.size()));
    Conversation whole = new Conversation(talked.service(), talked.server(), KEYS);
    Conversation pieces = new Conversation(talked.service(), talked.server(), KEYS);
    for (Said said : talked.said()) {
      whole.onBytes(said.byClient(), said.bytes(), 0, said.bytes().length);
      for (int at = 0; at < said.bytes().length; ) {
        int length = Math.min(said.bytes().length - at, 1 + random.nextInt(90));
        pieces.onBytes(said.byClient(), said.bytes(), at, length);
        at += length;
      }
    }
    ConnectionFacts one = whole.facts();
    ConnectionFacts other = pieces.facts();
    assertThat(other.facts()).isEqualTo(one.facts());
    assertThat(other.requests()).hasSameSizeAs(one.requests());
    for (int i = 0; i < one.requests().size(); i++) {
      assertThat(other.requests().get(i).facts()).isEqualTo(one.requests().get(i).facts());
    }
    assertThat(other.isOpened()).isEqualTo(one.isOpened());
  }
}
