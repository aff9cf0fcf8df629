package ironsieve.cli;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import ironsieve.cli.Inputs.UnreadableException;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.ImpossibleConnectionException;
import ironsieve.compile.Problem;
import ironsieve.compile.ProblemException;
import ironsieve.decide.Decider;
import ironsieve.decide.Fall;
import ironsieve.files.FaultException;
import ironsieve.files.RulebaseFormat;
import ironsieve.impact.Comparison;
import ironsieve.impact.Impact;
import ironsieve.model.Connection;
import ironsieve.model.Environment;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.review.Budget;
import ironsieve.review.Explanations;
import ironsieve.review.Finding;
import ironsieve.review.Review;
import ironsieve.review.Reviewer;
import ironsieve.text.OutcomeText;
import ironsieve.text.ProbeText;
import ironsieve.text.RulebaseFile;
import ironsieve.text.RulebaseReader;
import ironsieve.text.RulebaseWriter;
import ironsieve.text.TextException;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/**
 * The commands. Exit status: 0 all is well; 1 there are warnings, or verdicts change; 2 there are
 * errors; 3 something cannot be read; 64 the command itself is wrong.
 */
@Command(
    name = "sieve",
    description = "Iron Sieve without a server.",
    subcommands = {
      RulebasesCommand.class,
      ReleaseCommand.class,
      RollbackCommand.class,
      TryCommand.class,
      GatewaysCommand.class,
      IdentifyCommand.class,
      SignaturesCommand.class,
      TapeCommand.class
    },
    mixinStandardHelpOptions = true)
public final class Main {

  static final int FINE = 0;
  static final int WARNINGS = 1;
  static final int ERRORS = 2;
  static final int UNREADABLE = 3;
  private static final int MISUSED = 64;
  private static final int IMPACT_BUDGET = 2_000_000;
  private static final ObjectMapper JSON =
      new ObjectMapper().enable(SerializationFeature.INDENT_OUTPUT);

  @Spec private CommandSpec spec;

  /** Runs one command and ends with its exit status. */
  public static void main(String[] arguments) {
    PrintWriter out = new PrintWriter(System.out, true);
    PrintWriter err = new PrintWriter(System.err, true);
    System.exit(run(out, err, arguments));
  }

  /** Runs one command. */
  static int run(PrintWriter out, PrintWriter err, String... arguments) {
    CommandLine line = new CommandLine(new Main());
    line.setCaseInsensitiveEnumValuesAllowed(true);
    line.setOut(out);
    line.setErr(err);
    line.getCommandSpec().exitCodeOnInvalidInput(MISUSED);
    misused(line);
    line.setExecutionExceptionHandler(
        (e, commandLine, parsed) -> {
          err.println("sieve: " + messageOf(e));
          return UNREADABLE;
        });
    return line.execute(arguments);
  }

  /** A command that is wrong ends with the same status at any depth. */
  private static void misused(CommandLine line) {
    for (CommandLine sub : line.getSubcommands().values()) {
      sub.getCommandSpec().exitCodeOnInvalidInput(MISUSED);
      misused(sub);
    }
  }

  private static String messageOf(Exception e) {
    if (e instanceof ProblemException problems) {
      List<String> all = new ArrayList<>();
      for (Problem problem : problems.problems()) {
        all.add(
            problem.place()
                + " "
                + problem.id()
                + ", "
                + problem.field()
                + ": "
                + problem.message());
      }
      return String.join("\n       ", all);
    }
    boolean expected =
        e instanceof UnreadableException
            || e instanceof FaultException
            || e instanceof TextException
            || e instanceof ImpossibleConnectionException;
    return expected ? e.getMessage() : "unexpectedly: " + e;
  }

  private PrintWriter out() {
    return spec.commandLine().getOut();
  }

  private void print(Object json) {
    print(out(), json);
  }

  /** Prints maps and lists as JSON. */
  static void print(PrintWriter out, Object json) {
    try {
      out.println(JSON.writeValueAsString(json));
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("maps always become JSON", e);
    }
  }

  private static String counted(int count, String thing) {
    return count + " " + thing + (count == 1 ? "" : "s");
  }

  private static Map<String, Integer> numbers(Rulebase rulebase) {
    Map<String, Integer> numbers = new HashMap<>();
    for (Rule rule : rulebase.rules()) {
      numbers.put(rule.id(), numbers.size() + 1);
    }
    return numbers;
  }

  @Command(
      description = "Everything the review has to say about a rulebase, the worst first.",
      mixinStandardHelpOptions = true)
  int check(
      @Mixin Inputs inputs,
      @Parameters(paramLabel = "FILE") Path file,
      @Option(names = "--quiet-too", description = "also what is normal") boolean quietToo,
      @Option(names = "--steps", paramLabel = "N", description = "budget of each search")
          Integer steps) {
    CompiledRulebase compiled = inputs.compiled(file);
    Rulebase rulebase = compiled.rulebase();
    Budget budget = steps == null ? Budget.USUAL : Budget.USUAL.searching(steps);
    Review review = Reviewer.review(compiled, budget, inputs.tapes(compiled.space().environment()));
    List<Finding> findings =
        review.worstFirst().stream()
            .filter(f -> quietToo || f.severity() != Finding.Severity.QUIET)
            .toList();
    Map<String, Integer> numbers = numbers(rulebase);
    if (inputs.json()) {
      Explanations explanations = new Explanations(rulebase, review);
      print(findings.stream().map(f -> finding(f, review, explanations)).toList());
    } else {
      for (Finding finding : findings) {
        out()
            .printf(
                "%-8s rule %d (%s) %s%n         %s%n",
                word(finding.severity()),
                numbers.get(finding.rule()),
                finding.rule(),
                finding.kind().word(),
                review.sentence(finding));
        finding.evidence().stream()
            .limit(1)
            .forEach(
                evidence ->
                    out()
                        .printf(
                            "         try: %s%n",
                            ProbeText.print(evidence.witness().connection())));
      }
      out()
          .printf("%s, %s%n", counted(numbers.size(), "rule"), counted(findings.size(), "finding"));
    }
    return findings.stream().anyMatch(f -> f.severity() == Finding.Severity.ERROR)
        ? ERRORS
        : findings.stream().anyMatch(f -> f.severity() == Finding.Severity.WARNING)
            ? WARNINGS
            : FINE;
  }

  private static Map<String, Object> finding(
      Finding finding, Review review, Explanations explanations) {
    Map<String, Object> view = new LinkedHashMap<>();
    view.put("severity", word(finding.severity()));
    view.put("kind", finding.kind().word());
    view.put("rule", finding.rule());
    view.put("number", review.number(finding.rule()));
    view.put("sentence", review.sentence(finding));
    view.put("explanation", explanations.of(finding));
    List<Map<String, Object>> evidence = new ArrayList<>();
    for (Finding.Evidence one : finding.evidence()) {
      Map<String, Object> witness = new LinkedHashMap<>();
      witness.put("rule", one.rule());
      one.otherwise().ifPresent(share -> witness.put("otherwise", share.value()));
      witness.put("probe", ProbeText.print(one.witness().connection()));
      witness.put("caughtBy", one.witness().caughtBy().orElse(""));
      evidence.add(witness);
    }
    view.put("evidence", evidence);
    return view;
  }

  private static String word(Enum<?> constant) {
    return constant.name().toLowerCase(java.util.Locale.ROOT).replace('_', ' ');
  }

  @Command(
      description = "Runs a probe: which rule catches it, and how it unfolds at the gateway.",
      mixinStandardHelpOptions = true)
  int probe(
      @Mixin Inputs inputs,
      @Parameters(paramLabel = "FILE") Path file,
      @Parameters(paramLabel = "PROBE", description = "such as \"from Offices to Internet\"")
          String text) {
    Rulebase rulebase = Inputs.rulebase(file);
    Environment environment = inputs.environment();
    Connection connection =
        new ProbeText(environment).parse(text, LocalDateTime.now()).connection();
    Fall fall = Decider.forOne(rulebase, environment, connection).fall(connection);
    Map<String, Integer> numbers = numbers(rulebase);
    Optional<String> rule = fall.caught().rule();
    String outcome = OutcomeText.print(fall.caught().outcome());
    if (inputs.json()) {
      Map<String, Object> view = new LinkedHashMap<>();
      view.put("probe", ProbeText.print(fall.connection()));
      view.put("outcome", outcome);
      view.put("rule", rule.orElse(""));
      view.put(
          "stages",
          fall.stages().stream()
              .map(
                  stage ->
                      Map.of(
                          "knowledge", stage.knowledge().word(),
                          "status", word(stage.status()),
                          "waiting", stage.waiting().stream().map(Fall.Wait::rule).toList()))
              .toList());
      print(view);
      return FINE;
    }
    out().println(ProbeText.print(fall.connection()));
    out()
        .println(
            outcome
                + ", by "
                + rule.map(id -> "rule " + numbers.get(id) + " (" + id + ")")
                    .orElse("the default verdict"));
    fall.stages()
        .forEach(
            stage ->
                out()
                    .printf(
                        "  %-13s %s%s%n",
                        stage.knowledge().word(),
                        word(stage.status()),
                        stage.waiting().isEmpty()
                            ? ""
                            : "; "
                                + stage.waiting().size()
                                + (stage.waiting().size() == 1 ? " rule waits" : " rules wait")));
    return FINE;
  }

  @Command(
      description = "Which connections get another verdict from another rulebase.",
      mixinStandardHelpOptions = true)
  int impact(
      @Mixin Inputs inputs,
      @Parameters(paramLabel = "OLD") Path before,
      @Parameters(paramLabel = "NEW") Path after) {
    Impact impact =
        Comparison.between(
            Inputs.rulebase(before), Inputs.rulebase(after), inputs.environment(), IMPACT_BUDGET);
    if (inputs.json()) {
      Map<String, Object> view = new LinkedHashMap<>();
      view.put("complete", impact.extent() == Impact.Extent.COMPLETE);
      view.put("kinds", impact.kinds().stream().map(Main::kind).toList());
      print(view);
    } else {
      for (Impact.Kind kind : impact.kinds()) {
        out()
            .printf(
                "%s -> %s  %s%n    try: %s%n",
                OutcomeText.print(kind.before().outcome()),
                OutcomeText.print(kind.after().outcome()),
                words(kind),
                ProbeText.print(kind.witness()));
      }
      out()
          .printf(
              "%s another verdict%s%n",
              impact.kinds().size() == 1
                  ? "1 group of connections gets"
                  : impact.kinds().size() + " groups of connections get",
              impact.extent() == Impact.Extent.COMPLETE ? "" : "; there may be more");
    }
    return impact.kinds().isEmpty() && impact.extent() == Impact.Extent.COMPLETE ? FINE : WARNINGS;
  }

  private static String words(Impact.Kind kind) {
    List<String> parts = new ArrayList<>();
    kind.words().forEach(words -> parts.add(words.part() + " " + words.text()));
    return parts.isEmpty() ? "everything" : String.join(" ", parts);
  }

  private static Map<String, Object> kind(Impact.Kind kind) {
    Map<String, Object> view = new LinkedHashMap<>();
    view.put("words", words(kind));
    view.put("before", OutcomeText.print(kind.before().outcome()));
    view.put("after", OutcomeText.print(kind.after().outcome()));
    view.put("rulesBefore", kind.before().ids());
    view.put("rulesAfter", kind.after().ids());
    view.put("probe", ProbeText.print(kind.witness()));
    return view;
  }

  @Command(
      description = "Writes a rulebase's text the one way it is written, comments kept.",
      mixinStandardHelpOptions = true)
  int fmt(
      @Parameters(paramLabel = "FILE") Path file,
      @Option(names = "--check", description = "change nothing; 1 if it would change")
          boolean check) {
    String text = Inputs.text(file);
    RulebaseFile read;
    try {
      read = RulebaseReader.read(text);
    } catch (ironsieve.text.FileTextException e) {
      throw new UnreadableException(file + ": " + e.getMessage());
    }
    String written = RulebaseWriter.write(read);
    if (written.equals(text)) {
      return FINE;
    }
    if (check) {
      out().println(file + " is not written the one way; run: sieve fmt " + file);
      return WARNINGS;
    }
    try {
      Files.writeString(file, written);
    } catch (IOException e) {
      throw new UnreadableException(file + " cannot be written: " + e.getMessage());
    }
    out().println(file + " written anew");
    return FINE;
  }

  @Command(
      description = {
        "Writes a rulebase in another format to standard output: rules (the readable text), json,",
        "csv (for spreadsheets), acl (RFC 8519; what it cannot carry goes to standard error)."
      },
      mixinStandardHelpOptions = true)
  int convert(
      @Mixin Inputs inputs,
      @Parameters(paramLabel = "FILE") Path file,
      @Option(
              names = "--to",
              required = true,
              paramLabel = "FORMAT",
              converter = Inputs.Format.class)
          RulebaseFormat format) {
    RulebaseFormat.Written written = format.write(Inputs.file(file), inputs.environment());
    out().print(written.text());
    out().flush();
    written.left().forEach(spec.commandLine().getErr()::println);
    return FINE;
  }
}
