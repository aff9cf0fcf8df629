package ironsieve.server;

import ironsieve.model.Service;
import ironsieve.region.Address;
import ironsieve.traffic.make.CaptureMaker;
import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.signature.Unit;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;

/** Small captures for tests. */
public final class Captures {

  private static final Service HTTPS = new Service(Service.TCP, 443);
  private static final Address SERVER = Address.parse("203.0.113.44");
  private static final int SECRETS = 10;

  private Captures() {}

  /** A capture without its key log, and the key log apart. */
  public record Sealed(byte[] capture, String keys) {

    public int keysLength() {
      return keys.getBytes(StandardCharsets.US_ASCII).length;
    }

    public byte[] keysAndCapture() {
      return ByteBuffer.allocate(keysLength() + capture.length)
          .put(keys.getBytes(StandardCharsets.US_ASCII))
          .put(capture)
          .array();
    }
  }

  /** What a request inside TLS shows to who has the keys. */
  public static Unit opened(String host, String method, String path) {
    ConnectionFacts shown = new ConnectionFacts(HTTPS, SERVER);
    shown.add(Fact.of(Field.SERVER_NAME, host));
    return new Unit(
        shown,
        List.of(
            Fact.of(Field.HOST, host), Fact.of(Field.METHOD, method), Fact.of(Field.PATH, path)));
  }

  /** So many connections of one kind, from as many clients of the offices. */
  public static byte[] of(Unit unit, int times) throws IOException {
    List<CaptureMaker.Plan> plans = new ArrayList<>();
    for (int i = 0; i < times; i++) {
      plans.add(
          new CaptureMaker.Plan(
              Instant.parse("2026-11-03T09:30:00Z").getEpochSecond() * 1_000_000_000L
                  + i * 60_000_000_000L,
              Address.parse("10.20.12." + (40 + i)),
              40_000 + i,
              SERVER,
              HTTPS,
              List.of(unit),
              true,
              300));
    }
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    CaptureMaker.write(out, plans, 11);
    return out.toByteArray();
  }

  /** One connection whose secrets are not in the capture. */
  public static Sealed sealed(String host, String method, String path) throws IOException {
    ByteBuffer all = ByteBuffer.wrap(of(opened(host, method, path), 1));
    ByteArrayOutputStream rest = new ByteArrayOutputStream();
    StringBuilder keys = new StringBuilder();
    while (all.hasRemaining()) {
      int type = all.getInt(all.position());
      byte[] block = new byte[all.getInt(all.position() + 4)];
      all.get(block);
      if (type == SECRETS) {
        int length = ByteBuffer.wrap(block).getInt(12);
        keys.append(new String(block, 16, length, StandardCharsets.US_ASCII));
      } else {
        rest.writeBytes(block);
      }
    }
    return new Sealed(rest.toByteArray(), keys.toString());
  }
}
