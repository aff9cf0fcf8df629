package ironsieve.cli;

import ironsieve.cli.Inputs.UnreadableException;
import ironsieve.compile.CompiledRulebase;
import ironsieve.files.TapeCsv;
import ironsieve.model.Rule;
import ironsieve.progress.Progress;
import ironsieve.recorded.RecordedDecisions;
import ironsieve.recorded.Traffic;
import ironsieve.traffic.file.TapeFile;
import ironsieve.traffic.view.By;
import ironsieve.traffic.view.DecisionWords;
import ironsieve.traffic.view.Narrowing;
import ironsieve.traffic.view.Sum;
import ironsieve.traffic.view.TrafficView;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintWriter;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Recorded traffic as tapes: made of files in any format, run through a rulebase, summed up. */
@Command(
    name = "tape",
    description = "Recorded traffic: made into a tape, run through a rulebase, summed up.",
    mixinStandardHelpOptions = true)
final class TapeCommand {

  @Spec private CommandSpec spec;

  private PrintWriter out() {
    return spec.commandLine().getOut();
  }

  /** The file of a command, and how it is read. */
  static final class From {
    @Parameters(
        paramLabel = "FILE",
        description = "a capture, a table, JSON lines, syslog, IPFIX, or a tape")
    private Path file;

    @Option(
        names = "--keys",
        paramLabel = "FILE",
        description = "a TLS key log to open a capture with")
    private Path keys;

    @Option(
        names = "--sign-ins",
        paramLabel = "FILE",
        description = "who signed in where: time, address, person and, if known, until or event")
    private Path signIns;

    @Option(
        names = "--sign-ins-hours",
        paramLabel = "HOURS",
        defaultValue = "10",
        description = "so long somebody is taken for there who is not heard of again")
    private int signInsHours;

    @Option(
        names = "--mapping",
        paramLabel = "JSON",
        defaultValue = "",
        description = "which column of a table says what, such as {\"from\": \"Source IP\"}")
    private String mapping;
  }

  @Command(name = "make", description = "Prints the tape that a file is, as CSV.")
  int make(@Mixin Inputs inputs, @Mixin From from) {
    TapeFile.Made made = read(inputs, from);
    TapeCsv.write(made.tape(), out());
    out().flush();
    return printNotes(made);
  }

  @Command(name = "run", description = "Prints what each rule catches of a file, first rule first.")
  int run(
      @Mixin Inputs inputs,
      @Mixin From from,
      @Parameters(paramLabel = "RULEBASE", index = "1") Path rulebase) {
    CompiledRulebase compiled = inputs.compiled(rulebase);
    TapeFile.Made made = read(inputs, from);
    TrafficView view =
        new TrafficView(
            inputs.environment(),
            RecordedDecisions.of(compiled, Traffic.ofColumns(List.of(made.tape()))));
    Map<String, Sum> sums = new HashMap<>();
    view.bars(By.RULE, Narrowing.NONE, false).forEach(bar -> sums.put(bar.value(), bar.sum()));
    List<TrafficView.Bar> caught = new ArrayList<>();
    int number = 0;
    for (Rule rule : compiled.rulebase().rules()) {
      number++;
      if (rule.isOn()) {
        caught.add(
            new TrafficView.Bar(
                "rule " + number + " (" + rule.id() + ")",
                sums.getOrDefault(rule.id(), Sum.NOTHING)));
      }
    }
    for (String other : List.of(DecisionWords.DEFAULT_VERDICT, DecisionWords.DEPENDS)) {
      caught.add(new TrafficView.Bar(other, sums.getOrDefault(other, Sum.NOTHING)));
    }
    print(inputs, caught);
    return printNotes(made);
  }

  private void print(Inputs inputs, List<TrafficView.Bar> bars) {
    if (inputs.json()) {
      Map<String, Object> all = new LinkedHashMap<>();
      for (TrafficView.Bar bar : bars) {
        all.put(bar.value(), Map.of("connections", bar.sum().times(), "bytes", bar.sum().bytes()));
      }
      Main.print(out(), all);
      return;
    }
    for (TrafficView.Bar bar : bars) {
      out()
          .printf(
              "%-40s %10d connections %14d bytes%n",
              bar.value(), bar.sum().times(), bar.sum().bytes());
    }
  }

  @Command(name = "show", description = "Prints what a file consists of by one thing.")
  int show(
      @Mixin Inputs inputs,
      @Mixin From from,
      @Option(
              names = "--by",
              paramLabel = "WHAT",
              defaultValue = "application",
              description = "application, recognised, person, group, host, from zone …")
          String by) {
    By what;
    try {
      what = By.demand(by);
    } catch (IllegalArgumentException e) {
      throw new UnreadableException(e.getMessage());
    }
    TapeFile.Made made = read(inputs, from);
    TrafficView view = new TrafficView(inputs.environment(), List.of(made.tape()));
    List<TrafficView.Bar> bars = view.bars(what, Narrowing.NONE, false);
    print(inputs, bars);
    return printNotes(made);
  }

  private TapeFile.Made read(Inputs inputs, From from) {
    TapeFile reader =
        new TapeFile(inputs.environment(), inputs.signatures().matcher(), new Progress());
    String name = from.file.getFileName().toString();
    if (!Files.isRegularFile(from.file)) {
      throw new UnreadableException(from.file + " cannot be read; is there such a file?");
    }
    Duration longest = Duration.ofHours(from.signInsHours);
    if (from.keys == null && from.signIns == null) {
      return reader.read(name, from.file, new TapeFile.Before(0, 0, longest, false), from.mapping);
    }
    // A key log and sign-ins go before the traffic that they say more of.
    try {
      Path all = Files.createTempFile("sieve", ".traffic");
      try {
        TapeFile.Before before;
        try (OutputStream out = Files.newOutputStream(all)) {
          before =
              new TapeFile.Before(
                  copied(from.keys, out), copied(from.signIns, out), longest, false);
          copied(from.file, out);
        }
        return reader.read(name, all, before, from.mapping);
      } finally {
        Files.delete(all);
      }
    } catch (IOException e) {
      throw new UncheckedIOException("the file made of " + from.file, e);
    }
  }

  private static long copied(Path file, OutputStream to) throws IOException {
    if (file == null) {
      return 0;
    }
    if (!Files.isRegularFile(file)) {
      throw new UnreadableException(file + " cannot be read; is there such a file?");
    }
    return Files.copy(file, to);
  }

  private int printNotes(TapeFile.Made made) {
    PrintWriter err = spec.commandLine().getErr();
    made.told().forEach(err::println);
    err.flush();
    out().flush();
    return Main.FINE;
  }
}
