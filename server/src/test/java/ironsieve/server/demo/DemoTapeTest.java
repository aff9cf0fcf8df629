package ironsieve.server.demo;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.files.CompanyFolder;
import ironsieve.files.TapeCsv;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Environment;
import ironsieve.model.Service;
import ironsieve.model.Tape;
import ironsieve.server.store.Samples;
import ironsieve.text.ProbeText;
import ironsieve.traffic.identify.CaptureConnections;
import ironsieve.traffic.identify.Seen;
import ironsieve.traffic.make.CaptureMaker;
import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.protocol.KeyLog;
import ironsieve.traffic.signature.Signature;
import ironsieve.traffic.signature.SignatureBook;
import ironsieve.traffic.signature.Unit;
import ironsieve.traffic.signature.Witness;
import ironsieve.traffic.tape.TapeMaker;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.Test;

/**
 * The demo's tape comes from packets: what each of its lines is, is told by what that connection
 * shows in the capture beside it. With {@code IRON_SIEVE_WRITE_DEMO=1} capture and samples are
 * written anew from the lines.
 */
class DemoTapeTest {

  private static final Path DEMO = Path.of("..", "demo");
  private static final Path TAPE = DEMO.resolve("tapes/main-gateway/autumn weeks.csv");
  private static final Path SAMPLES = DEMO.resolve("tapes/main-gateway/autumn weeks.samples.json");
  private static final Path CAPTURE = DEMO.resolve("captures/autumn weeks.pcapng.gz");
  private static final int FIRST_PORT = 20_000;

  private final CompanyFolder folder =
      new CompanyFolder(
          path -> {
            try {
              Path file = DEMO.resolve(path);
              return Files.exists(file)
                  ? Optional.of(Files.newInputStream(file))
                  : Optional.empty();
            } catch (IOException e) {
              throw new UncheckedIOException(e);
            }
          });
  private final Environment environment = folder.environment(LocalDate.of(2026, 11, 23));
  private final SignatureBook book =
      new SignatureBook(
          folder.applications(folder.company().edition()).stream()
              .map(one -> SignatureBook.written(one, false))
              .toList());

  private Tape tape() throws IOException {
    return TapeCsv.read("autumn weeks", Files.readString(TAPE), new ProbeText(environment));
  }

  @Test
  void theTapeIsWhatItsCaptureShows() throws IOException {
    if (System.getenv("IRON_SIEVE_WRITE_DEMO") != null) {
      write();
    }
    Tape tape = tape();
    List<Unit> samples =
        Samples.read(Samples.ofText(SAMPLES.toString(), Files.readString(SAMPLES)));
    Map<Integer, Seen> seen = new HashMap<>();
    try (InputStream in = new GZIPInputStream(Files.newInputStream(CAPTURE))) {
      read(in.readAllBytes()).forEach(one -> seen.put(one.ends().clientPort(), one));
    }
    int told = 0;
    for (int i = 0; i < tape.lines().size(); i++) {
      Tape.Line line = tape.lines().get(i);
      if (line.sample() < 0) {
        continue;
      }
      told++;
      Seen one = seen.get(FIRST_PORT + i);
      assertThat(one.ends().client()).isEqualTo(line.connection().from().place().address());
      assertThat(one.ends().service()).isEqualTo(line.connection().service());
      assertThat(use(one)).isEqualTo(line.connection().using());
      assertThat(ironsieve.server.store.Samples.format(List.of(unit(one))))
          .isEqualTo(Samples.format(List.of(samples.get(line.sample()))));
    }
    // What is said inside QUIC and SSH is not seen, some protocols are told by a port that they are
    // not on here, and ICMP has no client port.
    assertThat(told).isGreaterThan(tape.lines().size() * 8 / 10);
  }

  private List<Seen> read(byte[] capture) throws IOException {
    List<Seen> seen = new ArrayList<>();
    CaptureConnections.read(
        new ByteArrayInputStream(capture), book.matcher(), new KeyLog(), seen::add, () -> false);
    return seen;
  }

  private static Unit unit(Seen seen) {
    return Unit.of(seen.shown()).get(0);
  }

  private ApplicationUse use(Seen seen) {
    Seen.Use use = seen.useOf().get(0);
    return use.application()
        .flatMap(environment.catalogue()::application)
        .map(one -> TapeMaker.use(one, use.feature(), use.carrier()))
        .orElse(ApplicationUse.UNRECOGNISED);
  }

  private void write() throws IOException {
    Tape tape = tape();
    List<CaptureMaker.Plan> plans = new ArrayList<>();
    for (int i = 0; i < tape.lines().size(); i++) {
      Connection connection = tape.lines().get(i).connection();
      Optional<Unit> unit = unit(connection);
      if (unit.isPresent()) {
        plans.add(
            new CaptureMaker.Plan(
                connection.at().toEpochSecond(ZoneOffset.UTC) * 1_000_000_000L + i,
                connection.from().place().address(),
                FIRST_PORT + i,
                connection.to().address(),
                connection.service(),
                List.of(unit.get()),
                connection.using().feature().isPresent(),
                40 + i % 60));
      }
    }
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    CaptureMaker.write(out, plans, 42);
    Map<Integer, Seen> seen = new HashMap<>();
    read(out.toByteArray()).forEach(one -> seen.put(one.ends().clientPort(), one));
    List<Tape.Line> lines = new ArrayList<>();
    List<Unit> samples = new ArrayList<>();
    for (int i = 0; i < tape.lines().size(); i++) {
      Tape.Line line = tape.lines().get(i);
      Seen one = seen.get(FIRST_PORT + i);
      boolean isTold =
          one != null
              && one.ends().client().equals(line.connection().from().place().address())
              && use(one).equals(line.connection().using());
      lines.add(
          new Tape.Line(
              line.connection(),
              line.times(),
              one == null
                  ? Tape.Volume.NONE
                  : new Tape.Volume(
                      one.volume().octetsUp() * line.times(),
                      one.volume().octetsDown() * line.times()),
              line.unsaid(),
              isTold ? samples.size() : Tape.NO_SAMPLE));
      if (isTold) {
        samples.add(unit(one));
      }
    }
    Files.createDirectories(CAPTURE.getParent());
    try (GZIPOutputStream zipped = new GZIPOutputStream(Files.newOutputStream(CAPTURE))) {
      zipped.write(out.toByteArray());
    }
    Files.writeString(SAMPLES, Samples.text(Samples.format(samples)));
    Files.writeString(TAPE, TapeCsv.write(new Tape("autumn weeks", lines)), StandardCharsets.UTF_8);
  }

  /** What a connection of the list would show. */
  private Optional<Unit> unit(Connection connection) {
    ApplicationUse use = connection.using();
    Service service = connection.service();
    if (use.application().isEmpty()) {
      ConnectionFacts shown = new ConnectionFacts(service, connection.to().address());
      return service.protocol() == Service.TCP || service.protocol() == Service.UDP
          ? Optional.of(new Unit(shown, List.of()))
          : Optional.empty();
    }
    String name = use.application().get();
    List<Signature> own =
        book.signatures().stream().filter(one -> one.application().equals(name)).toList();
    Optional<Signature> feature =
        use.feature()
            .flatMap(
                f -> own.stream().filter(one -> one.feature().equals(Optional.of(f))).findFirst());
    boolean isQuic = use.carrier().equals(Optional.of("QUIC"));
    for (Signature signature : own) {
      if (signature.feature().isPresent()) {
        continue;
      }
      Optional<Unit> made = Witness.of(signature, feature);
      if (made.isEmpty()) {
        continue;
      }
      boolean isByName = made.get().facts().anyMatch(fact -> fact.field() == Field.SERVER_NAME);
      boolean isTls = use.carrier().equals(Optional.of("TLS")) || isQuic;
      if (isByName != isTls && !use.carrier().isEmpty()) {
        continue;
      }
      ConnectionFacts shown = new ConnectionFacts(service, connection.to().address());
      if (isQuic) {
        shown.add(Fact.of(Field.PROTOCOL, "QUIC"));
      }
      made.get().shown().facts().forEach(shown::add);
      return Optional.of(new Unit(shown, made.get().request()));
    }
    return Optional.empty();
  }
}
