package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.FaultException;
import ironsieve.model.Connection;
import ironsieve.model.Tape;
import ironsieve.recorded.Minutes;
import ironsieve.recorded.TapeColumns;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.edit.UnknownException;
import ironsieve.server.store.WatchStore;
import ironsieve.text.ProbeText;
import ironsieve.text.ValueText;
import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.signature.Unit;
import ironsieve.traffic.view.By;
import ironsieve.traffic.view.DecisionWords;
import ironsieve.traffic.view.Narrowing;
import ironsieve.traffic.view.Recognition;
import ironsieve.traffic.view.Sum;
import ironsieve.traffic.view.TrafficView;
import ironsieve.traffic.view.TrafficView.Bar;
import ironsieve.traffic.view.TrafficView.Decided;
import jakarta.inject.Inject;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.HeaderParam;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.time.LocalDateTime;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** What recorded traffic consists of, narrowed to whatever somebody looks at. */
@Path("/api")
@Blocking
@Produces(MediaType.APPLICATION_JSON)
public class TrafficResource {

  private static final int MOST_BARS = 500;
  private static final int MOST_LINES = 500;
  private static final int MOST_SAMPLES = 200;
  private static final int SHOWN_BYTES = 96;
  private static final int LONGEST_NAME = 200;

  @Inject Editor editor;
  @Inject WatchStore watches;

  /** How much there is: connections, and bytes from the clients and to them. */
  @Schema(requiredProperties = {"times", "up", "down"})
  public record SumView(long times, long up, long down) {}

  /** A value, and how much of the traffic has it. */
  @Schema(requiredProperties = {"value", "sum"})
  public record BarView(String value, SumView sum) {}

  /** The bars of one of them, longest first; {@code more} are left out. */
  @Schema(requiredProperties = {"by", "bars", "more"})
  public record ChartView(String by, List<BarView> bars, int more) {}

  /** One step of time. */
  @Schema(requiredProperties = {"from", "sum"})
  public record StepView(LocalDateTime from, SumView sum) {}

  /** What is looked at, over time and by each of what was asked for. */
  @Schema(requiredProperties = {"state", "all", "total", "steps", "minutes", "charts"})
  public record TrafficAnswer(
      String state,
      SumView all,
      SumView total,
      List<StepView> steps,
      long minutes,
      List<ChartView> charts) {}

  /**
   * A recorded connection: as a probe, with the rules that may catch it (an empty id for the
   * default verdict), what may happen, what is not said of it, and the sample it was told by.
   */
  @Schema(
      requiredProperties = {
        "tape",
        "times",
        "up",
        "down",
        "probe",
        "rules",
        "verdict",
        "unsaid",
        "recognised"
      })
  public record ConnectionView(
      String tape,
      long times,
      long up,
      long down,
      String probe,
      List<String> rules,
      String verdict,
      List<String> unsaid,
      String recognised,
      Integer sample) {}

  /** Connections that are looked at, most frequent first. */
  @Schema(requiredProperties = {"state", "lines", "more"})
  public record ConnectionsView(String state, List<ConnectionView> lines, long more) {}

  /** Something a connection showed; bytes as digits and as far as they can be read. */
  @Schema(requiredProperties = {"field", "value"})
  public record FactView(String field, String header, String value, String text) {}

  /** What connections showed that nobody recognised, with how many did. */
  @Schema(requiredProperties = {"tape", "number", "service", "sum", "recognised", "facts", "probe"})
  public record SampleView(
      String tape,
      int number,
      String service,
      String host,
      SumView sum,
      String recognised,
      List<FactView> facts,
      String probe) {}

  /** What nobody recognised, and how much it is. */
  @Schema(requiredProperties = {"all", "sum", "samples", "more"})
  public record UnrecognisedView(SumView all, SumView sum, List<SampleView> samples, int more) {}

  @GET
  @Path("rulebases/{id}/traffic")
  public TrafficAnswer traffic(
      @PathParam("id") String id,
      @QueryParam("by") List<String> by,
      @QueryParam("only") List<String> only,
      @QueryParam("from") String from,
      @QueryParam("to") String to,
      @QueryParam("measure") @DefaultValue("connections") String measure,
      @QueryParam("most") @DefaultValue("12") int most) {
    RulebaseSnapshot snapshot = editor.snapshot(id);
    TrafficView view = view(snapshot);
    Narrowing narrowing = narrowing(only, from, to);
    List<TrafficView.Step> steps = view.steps(narrowing);
    List<ChartView> charts = new ArrayList<>();
    view.addUp(by.stream().map(TrafficResource::by).toList(), narrowing);
    for (String word : by) {
      TrafficView.Top top =
          view.top(by(word), narrowing, isBytes(measure), Math.max(1, Math.min(most, MOST_BARS)));
      charts.add(
          new ChartView(word, top.bars().stream().map(TrafficResource::bar).toList(), top.more()));
    }
    return new TrafficAnswer(
        snapshot.state().token(),
        sum(view.total(Narrowing.NONE)),
        sum(view.total(narrowing)),
        steps.stream().map(TrafficResource::step).toList(),
        steps.size() < 2
            ? 1
            : java.time.Duration.between(steps.get(0).from(), steps.get(1).from()).toMinutes(),
        charts);
  }

  /**
   * A view that is kept: what it narrows to, its line, the largest step of it, and whether that is
   * above the threshold.
   */
  @Schema(
      requiredProperties = {
        "name",
        "only",
        "measure",
        "threshold",
        "line",
        "largest",
        "largestAt",
        "above"
      })
  public record WatchView(
      String name,
      List<String> only,
      String measure,
      long threshold,
      List<Long> line,
      long largest,
      LocalDateTime largestAt,
      boolean above) {}

  /** A view to be kept. */
  @Schema(requiredProperties = {"only", "measure", "threshold"})
  public record WatchRequest(List<String> only, String measure, long threshold) {}

  /** The views that are kept of a rulebase's traffic. */
  @GET
  @Path("rulebases/{id}/watches")
  public List<WatchView> watches(@PathParam("id") String id) {
    TrafficView view = view(editor.snapshot(id));
    return watches.of(id).stream().map(watch -> watch(view, watch)).toList();
  }

  private static WatchView watch(TrafficView view, WatchStore.WatchDoc doc) {
    boolean isBytes = isBytes(doc.measure());
    List<TrafficView.Step> steps = view.steps(narrowing(doc.only(), null, null));
    List<Long> line =
        steps.stream().map(step -> isBytes ? step.sum().bytes() : step.sum().times()).toList();
    int largest = 0;
    for (int i = 1; i < line.size(); i++) {
      largest = line.get(i) > line.get(largest) ? i : largest;
    }
    long most = line.isEmpty() ? 0 : line.get(largest);
    return new WatchView(
        doc.name(),
        doc.only(),
        doc.measure(),
        doc.threshold(),
        line,
        most,
        steps.isEmpty() ? null : steps.get(largest).from(),
        most > doc.threshold());
  }

  /** Keeps a view, in the place of one of that name. */
  @PUT
  @Path("rulebases/{id}/watches/{name}")
  @Consumes(MediaType.APPLICATION_JSON)
  public List<WatchView> keep(
      @PathParam("id") String id,
      @PathParam("name") String name,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      WatchRequest asked) {
    if (asked == null || asked.only() == null) {
      throw new FaultException(
          "watch " + name, "threshold", "say what it narrows to and a threshold from 0");
    }
    WatchStore.WatchDoc watch =
        new WatchStore.WatchDoc(name, asked.only(), asked.measure(), asked.threshold());
    watch.demandSound("watch");
    editor.snapshot(id);
    watches.keep(id, who, watch);
    return watches(id);
  }

  @DELETE
  @Path("rulebases/{id}/watches/{name}")
  public List<WatchView> removeWatch(@PathParam("id") String id, @PathParam("name") String name) {
    if (!watches.remove(id, name)) {
      throw UnknownException.of(
          "watch", name, watches.of(id).stream().map(WatchStore.WatchDoc::name).toList());
    }
    return watches(id);
  }

  /** What each rule caught in one step of time: connections by id. */
  @Schema(requiredProperties = {"from", "rules"})
  public record FallStepView(LocalDateTime from, Map<String, Long> rules) {}

  /** How traffic falls through the rules over time, for a replay. */
  @GET
  @Path("rulebases/{id}/traffic/fall")
  public List<FallStepView> fall(
      @PathParam("id") String id,
      @QueryParam("only") List<String> only,
      @QueryParam("from") String from,
      @QueryParam("to") String to) {
    TrafficView view = view(editor.snapshot(id));
    Narrowing narrowing = narrowing(only, from, to);
    List<TrafficView.Step> steps = view.steps(narrowing);
    List<Map<String, Sum>> sums = view.stepsBy(By.RULE, narrowing);
    List<FallStepView> fall = new ArrayList<>();
    for (int i = 0; i < steps.size(); i++) {
      Map<String, Long> rules = new LinkedHashMap<>();
      sums.get(i).forEach((rule, sum) -> rules.put(rule, sum.times()));
      fall.add(new FallStepView(steps.get(i).from(), rules));
    }
    return fall;
  }

  /** The bars of one of them as CSV. */
  @GET
  @Path("rulebases/{id}/traffic/table")
  @Produces("text/csv")
  public String table(
      @PathParam("id") String id,
      @QueryParam("by") @DefaultValue("application") String by,
      @QueryParam("only") List<String> only,
      @QueryParam("from") String from,
      @QueryParam("to") String to) {
    TrafficView view = view(editor.snapshot(id));
    return SumTable.csv(by, view.bars(by(by), narrowing(only, from, to), false));
  }

  /** The connections that are looked at. */
  @GET
  @Path("rulebases/{id}/traffic/connections")
  public ConnectionsView connections(
      @PathParam("id") String id,
      @QueryParam("only") List<String> only,
      @QueryParam("from") String from,
      @QueryParam("to") String to,
      @QueryParam("most") @DefaultValue("100") int most) {
    RulebaseSnapshot snapshot = editor.snapshot(id);
    TrafficView.Lines lines =
        view(snapshot).lines(narrowing(only, from, to), Math.max(1, Math.min(most, MOST_LINES)));
    return new ConnectionsView(
        snapshot.state().token(),
        lines.some().stream().map(TrafficResource::connection).toList(),
        lines.more());
  }

  private static ConnectionView connection(Decided one) {
    Tape.Line line = one.line();
    return new ConnectionView(
        one.tape(),
        line.times(),
        line.volume().up(),
        line.volume().down(),
        ProbeText.print(line.connection()),
        one.decision().rules().stream().map(rule -> rule.orElse("")).toList(),
        one.decision()
            .verdict()
            .map(verdict -> verdict.word())
            .orElse(one.decision().rules().isEmpty() ? "" : DecisionWords.DEPENDS),
        line.unsaid().stream().map(Tape.Unsaid::word).toList(),
        Recognition.of(line),
        line.sample() < 0 ? null : line.sample());
  }

  /** What nobody recognised: what its connections showed, most frequent first. */
  @GET
  @Path("rulebases/{id}/traffic/unrecognised")
  public UnrecognisedView unrecognised(@PathParam("id") String id) {
    RulebaseSnapshot snapshot = editor.snapshot(id);
    TrafficView view = view(snapshot);
    Sum unknown = Sum.NOTHING;
    for (Bar bar : view.bars(By.RECOGNISED, Narrowing.NONE, false)) {
      unknown = Recognition.isUnrecognised(bar.value()) ? unknown.and(bar.sum()) : unknown;
    }
    List<SampleView> samples = new ArrayList<>();
    for (TapeColumns tape : snapshot.recorded().tapes()) {
      samples.addAll(unrecognised(tape, snapshot.recorded().samples(tape.name())));
    }
    samples.sort(Comparator.comparingLong((SampleView sample) -> sample.sum().times()).reversed());
    int shown = Math.min(samples.size(), MOST_SAMPLES);
    return new UnrecognisedView(
        sum(view.total(Narrowing.NONE)),
        sum(unknown),
        samples.subList(0, shown),
        samples.size() - shown);
  }

  /** What of a tape nobody recognised that showed something, one for each sample. */
  private static List<SampleView> unrecognised(TapeColumns tape, List<Unit> units) {
    long[][] sums = tape.sumsBySample(units.size());
    int[] first = new int[units.size()];
    java.util.Arrays.fill(first, -1);
    for (int c = tape.conversations().count() - 1; c >= 0; c--) {
      int sample = tape.conversations().sample(c);
      if (sample >= 0 && sample < first.length) {
        first[sample] = c;
      }
    }
    List<SampleView> samples = new ArrayList<>();
    for (int i = 0; i < first.length; i++) {
      if (first[i] < 0 || sums[0][i] == 0) {
        continue;
      }
      Connection one = tape.connection(first[i], Minutes.time(tape.first().orElse(0)));
      String recognised = Recognition.of(one.using(), tape.conversations().unsaid(first[i]));
      if (Recognition.isUnrecognised(recognised)) {
        samples.add(
            sample(
                tape.name(),
                i,
                units.get(i),
                one,
                recognised,
                new Sum(sums[0][i], sums[1][i], sums[2][i])));
      }
    }
    return samples;
  }

  private static SampleView sample(
      String tape, int number, Unit unit, Connection one, String recognised, Sum sum) {
    return new SampleView(
        tape,
        number,
        ValueText.print(one.service()),
        one.to().host().orElse(null),
        sum(sum),
        recognised,
        facts(unit),
        ProbeText.print(one));
  }

  static List<FactView> facts(Unit unit) {
    List<FactView> facts = new ArrayList<>();
    unit.facts().forEach(fact -> facts.add(fact(fact)));
    return facts;
  }

  private static FactView fact(Fact fact) {
    String header = fact.header().isEmpty() ? null : fact.header();
    if (fact.field().kind() != Field.Kind.BYTES) {
      return new FactView(fact.field().word(), header, fact.text(), null);
    }
    byte[] first =
        java.util.Arrays.copyOf(fact.value(), Math.min(SHOWN_BYTES, fact.value().length));
    return new FactView(
        fact.field().word(),
        header,
        HexFormat.ofDelimiter(" ").formatHex(first),
        fact.readable(SHOWN_BYTES));
  }

  static BarView bar(Bar bar) {
    return new BarView(bar.value(), sum(bar.sum()));
  }

  static StepView step(TrafficView.Step step) {
    return new StepView(step.from(), sum(step.sum()));
  }

  static SumView sum(Sum sum) {
    return new SumView(sum.times(), sum.up(), sum.down());
  }

  private static TrafficView view(RulebaseSnapshot snapshot) {
    return snapshot.trafficView();
  }

  private static boolean isBytes(String measure) {
    if (!measure.equals("connections") && !measure.equals("bytes")) {
      throw new FaultException("traffic", "measure", "connections or bytes, not " + measure);
    }
    return measure.equals("bytes");
  }

  private static By by(String word) {
    try {
      return By.demand(word);
    } catch (IllegalArgumentException e) {
      throw new FaultException("traffic", "by", e.getMessage());
    }
  }

  /** What {@code application:Chatterbay} and its like narrow to, and the bounds of time. */
  private static Narrowing narrowing(List<String> only, String from, String to) {
    try {
      return new Narrowing(Narrowing.wanted(only), time("from", from), time("to", to));
    } catch (IllegalArgumentException e) {
      throw new FaultException("traffic", "only", e.getMessage());
    }
  }

  private static LocalDateTime time(String field, String text) {
    try {
      return text == null || text.isBlank() ? null : LocalDateTime.parse(text);
    } catch (DateTimeParseException e) {
      throw new FaultException(
          "traffic", field, "a time such as 2026-11-02T09:30, not \"" + text + "\"");
    }
  }

  /** A sample of a tape. */
  static Optional<Unit> unit(RulebaseSnapshot snapshot, String tape, int number) {
    List<Unit> samples = snapshot.recorded().samples(tape);
    return number >= 0 && number < samples.size()
        ? Optional.of(samples.get(number))
        : Optional.empty();
  }
}
