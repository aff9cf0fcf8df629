package ironsieve.cli;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.cli.Inputs.UnreadableException;
import ironsieve.text.ValueText;
import ironsieve.traffic.capture.CaptureException;
import ironsieve.traffic.identify.CaptureConnections;
import ironsieve.traffic.identify.Seen;
import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.protocol.KeyLog;
import ironsieve.traffic.signature.SignatureMatcher.Match;
import ironsieve.traffic.signature.SignatureText;
import java.io.IOException;
import java.io.InputStream;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** The connections of a capture, each with what it is and by what that was told. */
@Command(
    name = "identify",
    description = "Prints the connections of a capture, with application, feature and why.",
    mixinStandardHelpOptions = true)
final class IdentifyCommand implements Callable<Integer> {

  private static final ObjectMapper JSON = new ObjectMapper();
  private static final int LONGEST_WHY = 60;

  @Spec private CommandSpec spec;
  @Mixin private Inputs inputs;

  @Parameters(paramLabel = "CAPTURE", description = "pcap or pcapng, also gzipped")
  private Path capture;

  @Option(
      names = "--keys",
      paramLabel = "FILE",
      description = "a TLS key log to open encrypted connections with; may stand several times")
  private List<Path> keyFiles = List.of();

  @Override
  public Integer call() {
    KeyLog keys = new KeyLog();
    keyFiles.forEach(file -> keys.add(Inputs.text(file)));
    PrintWriter out = spec.commandLine().getOut();
    PrintWriter err = spec.commandLine().getErr();
    long[] unrecognised = {0};
    CaptureConnections.Summary summary;
    try (InputStream in = Files.newInputStream(capture)) {
      summary =
          CaptureConnections.read(
              in,
              inputs.signatures().matcher(),
              keys,
              seen -> {
                if (seen.uses().stream().allMatch(use -> use.match().isEmpty())) {
                  unrecognised[0]++;
                }
                print(out, seen);
              },
              () -> false);
    } catch (CaptureException e) {
      throw new UnreadableException(capture + ": " + e.getMessage());
    } catch (IOException e) {
      throw new UnreadableException(capture + " cannot be read; is there such a file?");
    }
    out.flush();
    printSummary(err, summary, unrecognised[0]);
    return Main.FINE;
  }

  private void print(PrintWriter out, Seen seen) {
    for (Seen.Use use : seen.uses()) {
      if (inputs.json()) {
        try {
          out.println(JSON.writeValueAsString(json(seen, use)));
        } catch (JsonProcessingException e) {
          throw new IllegalStateException("maps always become JSON", e);
        }
      } else {
        out.printf(
            "%s  %s → %s %s%s  %s  %d up, %d down  %s%n",
            seen.first(),
            seen.ends().client(),
            seen.ends().server(),
            ValueText.print(seen.ends().service()),
            seen.host().map(host -> " " + host).orElse(""),
            named(use),
            seen.volume().octetsUp(),
            seen.volume().octetsDown(),
            why(seen, use));
      }
    }
  }

  private static String named(Seen.Use use) {
    return use.application().orElse("not recognised")
        + use.feature().map(feature -> "/" + feature).orElse("")
        + use.carrier().map(carrier -> " over " + carrier).orElse("");
  }

  private static String why(Seen seen, Seen.Use use) {
    List<String> notes = new ArrayList<>();
    use.match()
        .ifPresent(
            match ->
                notes.add(
                    match.why().stream()
                        .map(IdentifyCommand::print)
                        .distinct()
                        .collect(Collectors.joining("; "))));
    ConnectionFacts shown = seen.shown();
    if (shown.mayHideName()) {
      notes.add("may ask for another name: encrypted client hello is offered");
    }
    if (shown.isOpened()) {
      notes.add("opened with keys");
    }
    if (shown.isBroken()) {
      notes.add("bytes are missing");
    }
    if (use.times() > 1) {
      notes.add(use.times() + " requests");
    }
    return notes.stream()
        .filter(note -> !note.isEmpty())
        .map(note -> "[" + note + "]")
        .collect(Collectors.joining(" "));
  }

  private static String print(Fact fact) {
    String value =
        fact.field().kind() == Field.Kind.BYTES ? fact.readable(LONGEST_WHY) : fact.text();
    String cut = value.length() > LONGEST_WHY ? value.substring(0, LONGEST_WHY) + "…" : value;
    return fact.field().word() + (fact.header().isEmpty() ? "" : " " + fact.header()) + " " + cut;
  }

  private static Map<String, Object> json(Seen seen, Seen.Use use) {
    Map<String, Object> all = new LinkedHashMap<>();
    all.put("first", seen.first().toString());
    all.put("last", seen.last().toString());
    all.put("from", seen.ends().client().toString());
    all.put("fromPort", seen.ends().clientPort());
    all.put("to", seen.ends().server().toString());
    all.put("service", ValueText.print(seen.ends().service()));
    seen.host().ifPresent(host -> all.put("host", host));
    all.put("hostAsked", seen.isHostAsked());
    use.application().ifPresent(application -> all.put("application", application));
    use.feature().ifPresent(feature -> all.put("feature", feature));
    use.carrier().ifPresent(carrier -> all.put("carrier", carrier));
    all.put("times", use.times());
    all.put("bytesUp", seen.volume().octetsUp());
    all.put("bytesDown", seen.volume().octetsDown());
    all.put("packetsUp", seen.volume().packetsUp());
    all.put("packetsDown", seen.volume().packetsDown());
    use.match().ifPresent(match -> all.put("signatures", signatures(match)));
    all.put("shown", facts(seen.shown()));
    return all;
  }

  private static List<String> signatures(Match match) {
    List<String> texts = new ArrayList<>();
    texts.add(SignatureText.print(match.signature()));
    match.featureSignature().map(SignatureText::print).ifPresent(texts::add);
    return texts;
  }

  private static Map<String, Object> facts(ConnectionFacts shown) {
    Map<String, Object> all = new LinkedHashMap<>();
    all.put("layers", shown.layers());
    all.put("facts", shown.facts().stream().map(IdentifyCommand::fact).toList());
    all.put(
        "requests",
        shown.requests().stream()
            .map(request -> request.facts().stream().map(IdentifyCommand::fact).toList())
            .toList());
    all.put("opened", shown.isOpened());
    all.put("mayHideName", shown.mayHideName());
    all.put("incomplete", shown.isBroken());
    return all;
  }

  private static Map<String, String> fact(Fact fact) {
    Map<String, String> one = new LinkedHashMap<>();
    one.put("field", fact.field().word());
    if (!fact.header().isEmpty()) {
      one.put("header", fact.header());
    }
    one.put(
        "value",
        fact.field().kind() == Field.Kind.BYTES
            ? java.util.HexFormat.of().formatHex(fact.value())
            : fact.text());
    return one;
  }

  private static void printSummary(
      PrintWriter err, CaptureConnections.Summary summary, long unrecognised) {
    List<String> parts = new ArrayList<>();
    parts.add(summary.packets() + " packets, " + summary.connections() + " connections");
    note(parts, unrecognised, "not recognised");
    note(parts, summary.broken(), "with bytes missing");
    note(parts, summary.unreadable(), "packets cut or damaged");
    note(parts, summary.unknownFrames(), "packets in frames that cannot be read");
    note(parts, summary.notIp(), "packets that are not IP");
    note(parts, summary.reports(), "ICMP errors about connections");
    note(parts, summary.flowsGivenUp(), "connections ended early for want of memory");
    note(parts, summary.fragmentsGivenUp(), "packets of which fragments are missing");
    note(parts, summary.unreadableKeys(), "lines of key logs that are none");
    note(
        parts, summary.unusedKeys(), "lines of key logs with keys of a kind that is not used here");
    err.println(
        String.join(", ", parts)
            + (summary.isCutOff() ? "; the file ends in the middle of a packet" : ""));
    err.flush();
  }

  private static void note(List<String> parts, long count, String what) {
    Optional.of(count).filter(n -> n > 0).ifPresent(n -> parts.add(n + " " + what));
  }
}
