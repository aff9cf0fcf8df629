package ironsieve.traffic.file;

import ironsieve.files.FaultException;
import ironsieve.files.TapeCsv;
import ironsieve.model.Environment;
import ironsieve.model.Tape;
import ironsieve.progress.Progress;
import ironsieve.recorded.BlockStore;
import ironsieve.recorded.TapeColumns;
import ironsieve.text.FileTextException;
import ironsieve.text.ProbeText;
import ironsieve.text.SourceText;
import ironsieve.traffic.capture.CaptureException;
import ironsieve.traffic.identify.CaptureConnections;
import ironsieve.traffic.log.Ipfix;
import ironsieve.traffic.log.LogRecords;
import ironsieve.traffic.log.SignIns;
import ironsieve.traffic.log.SyslogLine;
import ironsieve.traffic.protocol.KeyLog;
import ironsieve.traffic.signature.SignatureMatcher;
import ironsieve.traffic.signature.Unit;
import ironsieve.traffic.tape.SeenRecords;
import ironsieve.traffic.tape.TapeMaker;
import ironsieve.traffic.tape.TrafficRecord;
import java.io.BufferedInputStream;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.StringReader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

/** A file of recorded traffic, made into a tape. */
public final class TapeFile {

  /** A text is read whole, so it has a bound; captures are read as they come. */
  private static final long LONGEST_TEXT = 256L << 20;

  private static final Duration LONGEST_STAY = Duration.ofDays(31);
  private static final int LOOKED_AT = 16;
  private static final int SHOWN_FAULTS = 5;

  private final Environment environment;
  private final SignatureMatcher matcher;
  private final Progress progress;
  private final BlockStore blocks;
  private final ZoneId zone = ZoneId.systemDefault();

  /** In these surroundings, for somebody who may lose patience; one tape, kept in memory. */
  public TapeFile(Environment environment, SignatureMatcher matcher, Progress progress) {
    this(environment, matcher, progress, BlockStore.inMemory());
  }

  /**
   * The same, kept elsewhere.
   *
   * @param blocks gets the lines while the file is read
   */
  public TapeFile(
      Environment environment, SignatureMatcher matcher, Progress progress, BlockStore blocks) {
    this.blocks = blocks;
    this.environment = environment;
    this.matcher = matcher;
    this.progress = progress;
  }

  /**
   * A tape that was made of a file.
   *
   * @param samples what its connections showed
   * @param format what the file was
   * @param told what could not be read of it, or is not known here; sentences
   */
  public record Made(TapeColumns tape, List<Unit> samples, String format, List<String> told) {}

  /**
   * What stands in a file before the traffic.
   *
   * @param keys the length of a TLS key log, in bytes; it is first
   * @param signIns the length of a list of who signed in where, in bytes; it is next
   * @param longest how long somebody who has signed in is taken for there
   * @param keepsOpened whether what connections showed that keys opened is kept as samples; their
   *     applications and features are told in any case
   */
  public record Before(long keys, long signIns, Duration longest, boolean keepsOpened) {

    /** The file begins with the traffic. */
    public static final Before NOTHING = new Before(0, 0, SignIns.USUAL, false);

    /**
     * Demands lengths and times that there can be.
     *
     * @throws FaultException if one is none
     */
    public Before {
      if (keys < 0 || keys > LONGEST_TEXT || signIns < 0 || signIns > LONGEST_TEXT) {
        throw new FaultException(
            "tape", "", "a key log and a list of sign-ins have at most " + LONGEST_TEXT + " bytes");
      }
      if (longest.isNegative() || longest.isZero() || longest.compareTo(LONGEST_STAY) > 0) {
        throw new FaultException(
            "sign-ins", "hours", "somebody is there for 1 to " + LONGEST_STAY.toHours() + " hours");
      }
    }

    private long length() {
      return keys + signIns;
    }
  }

  /**
   * Reads a file.
   *
   * @param before what stands in it before the traffic
   * @param mapping which column of a table says what, as JSON; empty where their names say it
   * @throws FaultException saying what is wrong with it, and where
   */
  public Made read(String name, Path file, Before before, String mapping) {
    try (InputStream in = new BufferedInputStream(Files.newInputStream(file), 1 << 16)) {
      KeyLog keys = new KeyLog();
      keys.add(new String(in.readNBytes((int) before.keys()), StandardCharsets.US_ASCII));
      SignInTable.Result people =
          SignInTable.read(
              new StringReader(SourceText.read(in.readNBytes((int) before.signIns()))),
              before.longest(),
              zone);
      in.mark(LOOKED_AT);
      byte[] first = in.readNBytes(LOOKED_AT);
      in.reset();
      if (first.length == 0) {
        throw new FaultException("tape " + name, "", "the file is empty");
      }
      if (isCapture(first)) {
        return capture(name, in, keys, before.keepsOpened(), people);
      }
      if (Ipfix.length(first, 0, first.length) > 0) {
        return flows(name, in, people);
      }
      Optional<String> other = Ipfix.other(first);
      if (other.isPresent()) {
        throw new FaultException(
            "tape " + name,
            "",
            "these are flow records of "
                + other.get()
                + ", and only IPFIX (RFC 7011) is read; let the exporter or collector write IPFIX");
      }
      if (first.length > 1 && first[0] == '<' && Character.isDigit(first[1])) {
        return syslog(name, in, people);
      }
      return isTape(file, before.length())
          ? csv(name, in, Files.size(file), people)
          : table(name, in, mapping, people);
    } catch (CaptureException | FileTextException e) {
      throw new FaultException("tape " + name, "", e.getMessage());
    } catch (IOException e) {
      throw new UncheckedIOException("the file that was sent", e);
    }
  }

  /** Whether a file begins as captures do, gzipped or not. */
  static boolean isCapture(byte[] first) {
    if (first.length < 4) {
      return false;
    }
    int magic =
        (first[0] & 0xFF) << 24
            | (first[1] & 0xFF) << 16
            | (first[2] & 0xFF) << 8
            | first[3] & 0xFF;
    return switch (magic) {
      case 0xA1B2C3D4, 0xD4C3B2A1, 0xA1B23C4D, 0x4D3CB2A1, 0x0A0D0D0A -> true;
      default -> magic >>> 16 == 0x1F8B;
    };
  }

  private Made capture(
      String name, InputStream in, KeyLog keys, boolean keepsOpened, SignInTable.Result people)
      throws IOException {
    progress.begin("reading packets", 0);
    TapeMaker maker = new TapeMaker(environment, blocks::add);
    Consumer<TrafficRecord> to = people.completing(maker::add);
    long[] asked = new long[2];
    long[] notKept = new long[1];
    CaptureConnections.Summary summary =
        CaptureConnections.read(
            in,
            matcher,
            keys,
            seen -> {
              progress.oneMore();
              List<TrafficRecord> records = SeenRecords.of(seen, zone, keepsOpened);
              records.forEach(to);
              notKept[0] += seen.shown().isOpened() && !keepsOpened ? 1 : 0;
              long things = records.stream().mapToLong(TrafficRecord::times).sum();
              if (things > 1) {
                asked[0]++;
                asked[1] += things;
              }
            },
            () -> {
              progress.check();
              return false;
            });
    TapeMaker.Made made = maker.finish();
    List<String> told = new ArrayList<>();
    told.add(summary.packets() + " packets, " + summary.connections() + " connections");
    note(
        told,
        asked[0],
        "connections hold more than one request, "
            + asked[1]
            + " in all; what is counted are requests, for each is decided on its own, and bytes are"
            + " those of the connection");
    note(
        told,
        notKept[0],
        "connections were opened with keys; what they showed is told by application and feature, and"
            + " not kept");
    note(told, summary.notIp(), "packets are not IP");
    note(
        told,
        summary.reports(),
        "packets are ICMP errors: they speak about a connection and are none");
    note(told, summary.unreadable(), "packets are cut or damaged");
    note(told, summary.unknownFrames(), "packets are in frames that cannot be read");
    note(told, summary.broken(), "connections have bytes missing");
    note(
        told,
        summary.flowsGivenUp(),
        "connections were ended early, as there were too many at one time");
    note(told, summary.fragmentsGivenUp(), "packets were given up as fragments are missing");
    note(told, summary.unreadableKeys(), "lines of the key log are none");
    note(
        told,
        summary.unusedKeys(),
        "lines of the key log hold keys of a kind that is not used here, such as RSA");
    if (summary.isCutOff()) {
      told.add("the file ends in the middle of a packet");
    }
    return make(name, made, "capture", told, people);
  }

  private Made make(
      String name,
      TapeMaker.Made made,
      String format,
      List<String> told,
      SignInTable.Result people) {
    told.addAll(people.notes());
    note(
        told, made.leftOut(), "connections lie behind no zone here, or there was no room for them");
    made.unknown().entrySet().stream()
        .sorted(Map.Entry.<String, Long>comparingByValue().reversed())
        .limit(20)
        .forEach(
            one -> told.add("not known here: " + one.getKey() + " (" + one.getValue() + " times)"));
    if (made.built().lines() == 0) {
      throw new FaultException(
          "tape " + name, "", "there is no connection in it; " + String.join("; ", told));
    }
    return new Made(
        TapeColumns.of(name, made.built(), blocks.all(), 0), made.samples(), format, told);
  }

  /** Whether a text is a tape of our own, by the names of its first two columns. */
  private static boolean isTape(Path file, long skip) throws IOException {
    try (InputStream in = Files.newInputStream(file)) {
      in.skipNBytes(skip);
      String head = new String(in.readNBytes(100), StandardCharsets.UTF_8);
      return head.matches(
          "(?s)\\uFEFF?\\s*\"?(times\"?,\"?connection|connection\"?,\"?times)\\b.*");
    }
  }

  private Made flows(String name, InputStream in, SignInTable.Result people) throws IOException {
    progress.begin("reading flow records", 0);
    TapeMaker maker = new TapeMaker(environment, blocks::add);
    Consumer<TrafficRecord> to = people.completing(maker::add);
    Ipfix ipfix = new Ipfix(zone);
    byte[] message = new byte[1 << 16];
    boolean isCutOff = false;
    while (true) {
      int head = in.readNBytes(message, 0, Ipfix.SHORTEST);
      int length = Ipfix.length(message, 0, head);
      if (head == 0) {
        break;
      }
      if (length == 0 || in.readNBytes(message, head, length - head) < length - head) {
        isCutOff = true;
        break;
      }
      progress.check();
      ipfix.message("file", message, 0, length, to);
    }
    ipfix.finish(to);
    List<String> told = new ArrayList<>();
    told.add(maker.records() + " flow records");
    note(told, ipfix.turned(), "were answers alone; their connections go the other way round");
    note(told, ipfix.undirected(), "tell one direction alone, and not who began");
    note(told, ipfix.withoutTemplate(), "sets came before their template");
    note(told, ipfix.unreadable(), "messages or records cannot be read");
    if (isCutOff) {
      told.add("the file ends in the middle of a message");
    }
    return make(name, maker.finish(), "flow records", told, people);
  }

  private Made syslog(String name, InputStream in, SignInTable.Result people) throws IOException {
    progress.begin("reading messages", 0);
    TapeMaker maker = new TapeMaker(environment, blocks::add);
    Consumer<TrafficRecord> to = people.completing(maker::add);
    long unread = 0;
    long number = 0;
    List<String> faults = new ArrayList<>();
    BoundedRecords records = new BoundedRecords(reader(in));
    BufferedReader lines = new BufferedReader(records, 1 << 16);
    for (String line = lines.readLine(); line != null; line = lines.readLine()) {
      records.next();
      number++;
      if (line.isBlank()) {
        continue;
      }
      try {
        to.accept(SyslogLine.parse(line, zone));
        progress.oneMore();
        progress.check();
      } catch (SyslogLine.SyslogException | LogRecords.FieldException e) {
        unread++;
        if (faults.size() < SHOWN_FAULTS) {
          faults.add("line " + number + ", " + e.getMessage());
        }
      }
    }
    return make(name, maker.finish(), "syslog", notes(maker.records(), unread, faults), people);
  }

  private Made table(String name, InputStream in, String mapping, SignInTable.Result people)
      throws IOException {
    progress.begin("reading lines", 0);
    TapeMaker maker = new TapeMaker(environment, blocks::add);
    LogTable.Result result;
    try (RecordPipeline<TrafficRecord> records =
        new RecordPipeline<>(people.completing(maker::add))) {
      result =
          new LogTable(zone)
              .read(
                  name,
                  reader(in),
                  mapping.isBlank()
                      ? Optional.empty()
                      : Optional.of(LogTable.mapping(mapping, zone)),
                  record -> {
                    progress.check();
                    progress.oneMore();
                    records.accept(record);
                  });
      records.finish();
    }
    return make(
        name,
        maker.finish(),
        "table",
        notes(result.read(), result.unread(), result.faults()),
        people);
  }

  /** What a table looks like, before it is read. */
  public static LogTable.Look look(Path file) {
    try (InputStream in = Files.newInputStream(file)) {
      return new LogTable(ZoneId.systemDefault()).look(reader(in));
    } catch (IOException e) {
      throw new UncheckedIOException("the file that was sent", e);
    }
  }

  private static BufferedReader reader(InputStream in) {
    return new BufferedReader(new InputStreamReader(in, StandardCharsets.UTF_8), 1 << 16);
  }

  private static List<String> notes(long read, long unread, List<String> faults) {
    List<String> told = new ArrayList<>();
    told.add(read + " lines read");
    note(told, unread, "lines cannot be read");
    told.addAll(faults);
    return told;
  }

  private Made csv(String name, InputStream in, long size, SignInTable.Result people)
      throws IOException {
    if (size > LONGEST_TEXT) {
      throw new FaultException(
          "tape " + name, "", "a text has at most " + (LONGEST_TEXT >> 20) + " MB; this has more");
    }
    try {
      String text = SourceText.read(in.readAllBytes());
      Tape tape = TapeCsv.read(name, text, new ProbeText(environment), progress);
      List<String> told =
          people.signIns().count() == 0
              ? List.of()
              : List.of("a tape says itself who was there; the sign-ins were not asked");
      return new Made(TapeColumns.of(tape.withoutSamples(), blocks), List.of(), "tape", told);
    } catch (FileTextException e) {
      throw new FaultException("tape " + name, "", e.getMessage());
    }
  }

  private static void note(List<String> told, long count, String what) {
    if (count > 0) {
      told.add(count + " " + what);
    }
  }
}
