package ironsieve.benchmarks;

import ironsieve.model.Service;
import ironsieve.region.Address;
import ironsieve.traffic.capture.CaptureReader;
import ironsieve.traffic.capture.Packet;
import ironsieve.traffic.identify.CaptureConnections;
import ironsieve.traffic.make.CaptureMaker;
import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.protocol.KeyLog;
import ironsieve.traffic.signature.Signature;
import ironsieve.traffic.signature.SignatureMatcher;
import ironsieve.traffic.signature.SignatureText;
import ironsieve.traffic.signature.Unit;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;

/**
 * Identification from a file in the cache, beside only reading the file, with 50 and with 5,000
 * signatures, and beside a general dissector that prints the same names; and what recorded
 * connections cost to decide beside the bare index.
 *
 * <p>The file: connections of one packet each way up to 400 kB, drawn so that a tenth of them has
 * most of the bytes, as it is on a network; four fifths TLS, the rest HTTP, DNS and QUIC. Names are
 * drawn from those of the signatures, one in five is nobody's.
 */
final class TrafficBenchmark {

  private static final int ROUNDS = 3;
  private static final int TURNS = 11;
  private static final Address SERVER = Address.parse("203.0.113.10");

  private TrafficBenchmark() {}

  private static List<Signature> signatures(int count) {
    List<Signature> all = new ArrayList<>();
    all.add(SignatureText.parse("TLS", false, "protocol is TLS"));
    all.add(SignatureText.parse("HTTP", false, "protocol is HTTP"));
    all.add(SignatureText.parse("DNS", false, "protocol is DNS"));
    all.add(SignatureText.parse("QUIC", false, "protocol is QUIC"));
    for (int i = 0; all.size() < count; i++) {
      String application = "app" + i;
      all.add(
          SignatureText.parse(
              application, false, "server name under " + name(i) + " or host under " + name(i)));
      if (i % 3 == 0) {
        all.add(
            SignatureText.parse(
                application, false, "feature up: method is POST and path starts /up"));
      }
      if (i % 10 == 0) {
        all.add(
            SignatureText.parse(
                "opaque" + i,
                false,
                String.format("client bytes starts hex \"7f %02x %02x\"", i & 255, i >> 8)));
        all.add(
            SignatureText.parse(
                "text" + i, false, "client bytes matches /^HELLO-" + i + "[ -~]*ready/"));
      }
    }
    return all;
  }

  private static String name(int i) {
    return "site" + i + (i % 7 == 0 ? ".cloud.example" : ".example");
  }

  private static void write(Path file, long megabytes, int names) throws IOException {
    Random random = new Random(5);
    List<CaptureMaker.Plan> plans = new ArrayList<>();
    long bytes = 0;
    for (int i = 0; bytes < megabytes << 20; i++) {
      int answer =
          random.nextInt(10) == 0 ? 20_000 + random.nextInt(380_000) : random.nextInt(6_000);
      boolean isKnown = random.nextInt(5) > 0;
      String host = "www." + (isKnown ? name(random.nextInt(names)) : "nobody" + i + ".example");
      int kind = random.nextInt(10);
      Service service =
          kind < 8
              ? new Service(Service.TCP, 443)
              : kind == 8
                  ? new Service(Service.TCP, 80)
                  : new Service(Service.UDP, i % 2 == 0 ? 53 : 443);
      ConnectionFacts shown = new ConnectionFacts(service, SERVER);
      List<Fact> request = new ArrayList<>();
      if (service.detail() == 443) {
        shown.add(Fact.of(Field.SERVER_NAME, host));
      } else if (service.detail() == 80) {
        request.add(Fact.of(Field.METHOD, "GET"));
        request.add(Fact.of(Field.HOST, host));
        request.add(Fact.of(Field.PATH, "/up/" + i));
      } else {
        request.add(Fact.of(Field.DNS_NAME, host));
      }
      plans.add(
          new CaptureMaker.Plan(
              i * 3_000_000L,
              Address.v4(0x0A140000L + random.nextInt(4_000)),
              20_000 + i % 40_000,
              Address.v4(SERVER.low() + random.nextInt(200)),
              service,
              List.of(new Unit(shown, request)),
              false,
              answer));
      bytes += answer + 2_500;
    }
    try (OutputStream out =
        new java.io.BufferedOutputStream(Files.newOutputStream(file), 1 << 20)) {
      CaptureMaker.write(out, plans, 5);
    }
  }

  private static double read(Path file) throws IOException {
    long begin = System.nanoTime();
    long packets = 0;
    try (InputStream in = Files.newInputStream(file);
        CaptureReader reader = CaptureReader.open(in, keys -> {})) {
      Packet packet = new Packet();
      while (reader.next(packet)) {
        packets += packet.end - packet.start;
      }
    }
    return packets == 0 ? 0 : (System.nanoTime() - begin) / 1e9;
  }

  private static double identify(Path file, SignatureMatcher matcher, long[] counts)
      throws IOException {
    counts[0] = 0;
    counts[1] = 0;
    long begin = System.nanoTime();
    try (InputStream in = Files.newInputStream(file)) {
      CaptureConnections.read(
          in,
          matcher,
          new KeyLog(),
          seen -> {
            counts[0]++;
            counts[1] += seen.uses().get(0).match().isPresent() ? 1 : 0;
          },
          () -> false);
    }
    return (System.nanoTime() - begin) / 1e9;
  }

  private static double dissect(Path file) throws IOException {
    long begin = System.nanoTime();
    Process process =
        new ProcessBuilder(
                "tshark",
                "-r",
                file.toString(),
                "-Y",
                "tls.handshake.type == 1 || http.request || dns",
                "-T",
                "fields",
                "-e",
                "tls.handshake.extensions_server_name",
                "-e",
                "http.host",
                "-e",
                "dns.qry.name")
            .redirectOutput(ProcessBuilder.Redirect.DISCARD)
            .redirectError(ProcessBuilder.Redirect.DISCARD)
            .start();
    try {
      process.waitFor();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
    return (System.nanoTime() - begin) / 1e9;
  }

  /** The median; puts the times in order. */
  private static double middle(double[] times) {
    Arrays.sort(times);
    return times[times.length / 2];
  }

  static void run(long megabytes) throws IOException {
    Path file = Files.createTempFile("sieve-bench", ".pcapng");
    try {
      write(file, megabytes, 1_000);
      double size = Files.size(file) * 8 / 1e9;
      System.out.printf("capture of %.2f Gbit%n", size);
      double reading = Double.MAX_VALUE;
      for (int i = 0; i < ROUNDS; i++) {
        reading = Math.min(reading, read(file));
      }
      System.out.printf(
          "only read                %8.2f s  %6.2f Gbit/s%n", reading, size / reading);
      // The compiler of the machine is to have seen all of it before anything is measured. Then
      // they take turns, so that what else the machine does meets all of them.
      int[] counts = {50, 500, 5_000};
      SignatureMatcher[] matchers = new SignatureMatcher[counts.length];
      double[][] times = new double[counts.length][TURNS];
      long[][] seen = new long[counts.length][2];
      for (int c = 0; c < counts.length; c++) {
        matchers[c] = new SignatureMatcher(signatures(counts[c]), Map.of());
        identify(file, matchers[c], seen[c]);
      }
      for (int turn = 0; turn < TURNS; turn++) {
        for (int c = 0; c < counts.length; c++) {
          times[c][turn] = identify(file, matchers[c], seen[c]);
        }
      }
      double few = middle(times[0]);
      for (int c = 0; c < counts.length; c++) {
        double middle = middle(times[c]);
        System.out.printf(
            "identified, %5d signatures %6.2f s  %6.2f Gbit/s, %.2f times only reading, %.2f times 50 (median of %d turns, %.2f to %.2f s); %d of %d connections%n",
            counts[c],
            middle,
            size / middle,
            middle / reading,
            middle / few,
            TURNS,
            times[c][0],
            times[c][TURNS - 1],
            seen[c][1],
            seen[c][0]);
      }
      if (Files.isExecutable(Path.of("/usr/bin/tshark"))) {
        double theirs = dissect(file);
        System.out.printf(
            "a general dissector      %8.2f s  %6.2f Gbit/s, %.0f times ours%n",
            theirs, size / theirs, theirs / few);
      }
    } finally {
      Files.delete(file);
    }
  }
}
