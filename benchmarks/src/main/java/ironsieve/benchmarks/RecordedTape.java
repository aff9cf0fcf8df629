package ironsieve.benchmarks;

import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Space;
import ironsieve.files.CompanyFolder;
import ironsieve.files.RulebaseFormat;
import ironsieve.model.Connection;
import ironsieve.model.Service;
import ironsieve.model.Tape.Unsaid;
import ironsieve.recorded.ColumnsBuilder;
import ironsieve.recorded.LineBlock;
import ironsieve.recorded.Minutes;
import ironsieve.recorded.TapeColumns;
import ironsieve.region.Box;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;

/**
 * A month of traffic as a log has it. One conversation for ten lines: seven in ten of them lie in
 * the claim of a random rule, the others anywhere; everybody sits at one address. Some are had
 * hundreds of times and most a few times, four fifths in office hours; a line is a conversation in
 * a minute, seen twenty times on average, in the order of time. No record names a device.
 */
final class RecordedTape {

  private static final int DAYS = 30;
  private static final int FIRST = (int) LocalDate.of(2026, 10, 26).toEpochDay() * 24 * 60;
  private static final int UNSAID = 1 << Unsaid.DEVICE.ordinal();

  private RecordedTape() {}

  /** Gets the lines in the order of time. */
  interface Lines {
    /** A connection of one of the conversations, by its number, in a minute since 1970. */
    void line(int conversation, int minute, long times, long up, long down);
  }

  /** Conversations for so many lines. */
  static List<Connection> conversations(CompiledRulebase compiled, int lines) {
    Random random = new Random(17);
    Space space = compiled.space();
    List<Box> boxes = compiled.boxes();
    List<Connection> all = new ArrayList<>();
    int count = Math.max(1, lines / 10);
    Box box = null;
    while (all.size() < count) {
      if (all.size() % 25 == 0 || box == null) {
        box =
            random.nextInt(10) < 7
                ? boxes.get(random.nextInt(boxes.size()))
                : space.ahead().get(random.nextInt(2));
      }
      Connection one = space.sample(box.anyPoint(random));
      boolean isIcmp =
          one.service().protocol() == Service.ICMP || one.service().protocol() == Service.ICMPV6;
      if (isIcmp) {
        box = null;
      } else {
        all.add(one);
      }
    }
    return all;
  }

  /** Tells of so many lines. */
  static void tell(int lines, int conversations, Lines to) {
    Random random = new Random(23);
    for (int day = 0; day < DAYS; day++) {
      int ofDay = (int) ((long) lines * (day + 1) / DAYS - (long) lines * day / DAYS);
      int[] minutes = new int[ofDay];
      for (int i = 0; i < ofDay; i++) {
        minutes[i] =
            random.nextInt(5) < 4 ? 8 * 60 + random.nextInt(10 * 60) : random.nextInt(24 * 60);
      }
      java.util.Arrays.sort(minutes);
      for (int minute : minutes) {
        double place = random.nextDouble();
        to.line(
            (int) (place * place * conversations),
            FIRST + day * 24 * 60 + minute,
            1 + random.nextInt(39),
            200 + random.nextInt(20_000),
            (long) Math.exp(6 + 9 * random.nextDouble()));
      }
    }
  }

  /** The same as a tape in memory; equal connections of a minute are one line. */
  static TapeColumns columns(List<Connection> conversations, int lines) {
    List<LineBlock> blocks = new ArrayList<>();
    ColumnsBuilder builder = new ColumnsBuilder(blocks::add);
    int[] numbers = new int[conversations.size()];
    for (int i = 0; i < numbers.length; i++) {
      Connection one = conversations.get(i);
      numbers[i] =
          builder.conversation(
              new ColumnsBuilder.Numbers(
                  builder.from(one.from().place()),
                  builder.person(one.from().person()),
                  builder.device(Connection.Device.UNKNOWN),
                  builder.to(one.to().place()),
                  builder.host(Optional.empty()),
                  builder.service(one.service()),
                  builder.use(one.using()),
                  UNSAID,
                  -1));
    }
    tell(
        lines,
        numbers.length,
        (conversation, minute, times, up, down) ->
            builder.add(numbers[conversation], minute, times, up, down));
    ColumnsBuilder.Built built = builder.built();
    return new TapeColumns("month", built.values(), built.conversations(), blocks, 0);
  }

  /** A log for a rulebase of a company's folder. */
  static void write(Path company, Path rulebase, int lines, Path file) throws IOException {
    CompanyFolder folder =
        new CompanyFolder(
            path -> {
              try {
                Path of = company.resolve(path);
                return Files.isRegularFile(of)
                    ? Optional.of(Files.newInputStream(of))
                    : Optional.empty();
              } catch (IOException e) {
                throw new UncheckedIOException(e);
              }
            });
    CompiledRulebase compiled =
        CompiledRulebase.of(
            RulebaseFormat.RULES.read("bench", Files.readString(rulebase)).rulebase(),
            folder.environment(LocalDate.of(2026, 11, 23)));
    write(conversations(compiled, lines), lines, file);
  }

  /**
   * The same as a log of a table, in the order of time: one line of a hundred bytes for each, in
   * columns that are not ours.
   */
  static void write(List<Connection> conversations, int lines, Path file) throws IOException {
    String[] middle = new String[conversations.size()];
    for (int i = 0; i < middle.length; i++) {
      Connection one = conversations.get(i);
      middle[i] =
          one.from().place().address()
              + ","
              + one.from().person().map(login -> "CORP\\" + login).orElse("unidentified")
              + ","
              + one.to().address()
              + ","
              + (one.service().protocol() == Service.TCP
                  ? "tcp"
                  : one.service().protocol() == Service.UDP
                      ? "udp"
                      : String.valueOf(one.service().protocol()))
              + ","
              + one.service().detail()
              + ","
              + one.using().application().orElse("");
    }
    try (Writer out = Files.newBufferedWriter(file)) {
      out.write(
          "Start,Source,Login,Destination,Protocol,Port,Application,Connections,Bytes Sent,Bytes Received\n");
      Random random = new Random(29);
      tell(
          lines,
          middle.length,
          (conversation, minute, times, up, down) -> {
            try {
              String time = Minutes.time(minute).withSecond(random.nextInt(60)).toString();
              out.append(time.length() == 16 ? time + ":00" : time)
                  .append(',')
                  .append(middle[conversation])
                  .append(',')
                  .append(Long.toString(times))
                  .append(',')
                  .append(Long.toString(up))
                  .append(',')
                  .append(Long.toString(down))
                  .append('\n');
            } catch (IOException e) {
              throw new UncheckedIOException(e);
            }
          });
    }
  }
}
