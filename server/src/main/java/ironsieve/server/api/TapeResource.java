package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import io.vertx.ext.web.RoutingContext;
import ironsieve.files.FaultException;
import ironsieve.files.TapeCsv;
import ironsieve.model.Tape;
import ironsieve.recorded.Hits;
import ironsieve.recorded.Minutes;
import ironsieve.recorded.TapeColumns;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.Recorded;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.edit.TapeEditor;
import ironsieve.server.edit.UnknownException;
import ironsieve.server.store.TapeStore;
import ironsieve.server.tapes.Listeners;
import ironsieve.server.tapes.Retention;
import ironsieve.text.ProbeText;
import ironsieve.traffic.file.LogTable;
import ironsieve.traffic.file.TapeFile;
import ironsieve.traffic.log.LogField;
import jakarta.inject.Inject;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.HeaderParam;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.StreamingOutput;
import java.io.BufferedWriter;
import java.io.OutputStreamWriter;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** Recorded traffic, and what the newest revision would catch of it. */
@Path("/api")
@Blocking
@Produces(MediaType.APPLICATION_JSON)
public class TapeResource {

  private static final String CSV = "text/csv";
  private static final int MOST_CAUGHT = 200;
  private static final int LONGEST_NAME = 200;

  @Inject Editor editor;
  @Inject TapeEditor tapeEditor;
  @Inject TapeStore tapes;
  @Inject Work work;
  @Inject Listeners listeners;
  @Inject Retention retention;
  @Inject RoutingContext request;

  /**
   * A tape: how many lines and connections it has and when they were seen; {@code trouble} says why
   * it cannot be read any more, if it cannot, and {@code told} what of its file could not be read;
   * {@code keepDays} of it are kept, and without that all.
   */
  @Schema(requiredProperties = {"name", "lines", "times", "trouble", "told"})
  public record TapeView(
      String name,
      long lines,
      long times,
      LocalDateTime from,
      LocalDateTime to,
      String trouble,
      List<String> told,
      Integer keepDays) {}

  /** How often a rule was hit, how many bytes went over that, and when last. */
  @Schema(requiredProperties = {"times", "bytes", "last"})
  public record CountView(long times, long bytes, LocalDateTime last) {}

  /**
   * What one revision would catch of all tapes: by rule, those that were hit at all. Of what too
   * little is known several rules may catch: {@code depending} counts it, {@code possible} by rule.
   * {@code days} is 0 if there are no tapes.
   */
  @Schema(
      requiredProperties = {
        "revision",
        "state",
        "rules",
        "times",
        "impossible",
        "depending",
        "possible",
        "days",
        "tapes"
      })
  public record HitsView(
      long revision,
      String state,
      Map<String, CountView> rules,
      CountView defaultVerdict,
      long times,
      long impossible,
      long depending,
      Map<String, Long> possible,
      long days,
      List<TapeView> tapes) {}

  /** Connections a rule caught, the most frequent first; {@code more} are left out. */
  @Schema(requiredProperties = {"revision", "lines", "more"})
  public record CaughtView(long revision, List<LineView> lines, long more) {}

  /** A connection as a probe, and how often it was seen. */
  @Schema(requiredProperties = {"times", "probe"})
  public record LineView(long times, String probe) {}

  @GET
  @Path("rulebases/{id}/hits")
  public HitsView hits(@PathParam("id") String id) {
    return view(editor.snapshot(id));
  }

  private static HitsView view(RulebaseSnapshot snapshot) {
    Hits hits = snapshot.review().hits();
    Map<String, CountView> rules = new HashMap<>();
    hits.counts().forEach((rule, count) -> rules.put(rule, view(count)));
    List<TapeView> all = new ArrayList<>();
    snapshot.recorded().tapes().forEach(tape -> all.add(view(tape, snapshot.recorded())));
    snapshot
        .recorded()
        .unread()
        .forEach(
            (name, why) -> all.add(new TapeView(name, 0, 0, null, null, why, List.of(), null)));
    return new HitsView(
        snapshot.revision(),
        snapshot.state().token(),
        rules,
        hits.defaultVerdict().map(TapeResource::view).orElse(null),
        hits.times(),
        hits.impossible(),
        hits.depending().stream().mapToLong(one -> one.count().times()).sum(),
        hits.possibleCounts(),
        hits.period().map(Hits.Period::days).orElse(0L),
        all);
  }

  private static CountView view(Hits.Count count) {
    return new CountView(count.times(), count.volume().both(), count.last());
  }

  private static TapeView view(TapeColumns tape, Recorded recorded) {
    return new TapeView(
        tape.name(),
        tape.lines(),
        tape.times(),
        tape.first().isPresent() ? Minutes.time(tape.first().getAsInt()) : null,
        tape.last().isPresent() ? Minutes.time(tape.last().getAsInt()) : null,
        "",
        recorded.notes(tape.name()),
        recorded.keepDays(tape.name()).orElse(null));
  }

  /** What a rule caught. */
  @GET
  @Path("rulebases/{id}/hits/rules/{rule}")
  public CaughtView caught(@PathParam("id") String id, @PathParam("rule") String rule) {
    RulebaseSnapshot snapshot = editor.snapshot(id);
    RuleLookup.rule(snapshot, rule);
    Hits hits = snapshot.review().hits();
    return view(snapshot, hits.caughtBy(rule, MOST_CAUGHT), hits.lines(rule));
  }

  /** What fell on the default verdict. */
  @GET
  @Path("rulebases/{id}/hits/default-verdict")
  public CaughtView caughtByDefaultVerdict(@PathParam("id") String id) {
    RulebaseSnapshot snapshot = editor.snapshot(id);
    Hits hits = snapshot.review().hits();
    return view(snapshot, hits.caughtByDefaultVerdict(MOST_CAUGHT), hits.defaultVerdictLines());
  }

  private static CaughtView view(RulebaseSnapshot snapshot, List<Tape.Line> lines, long all) {
    return new CaughtView(
        snapshot.revision(),
        lines.stream()
            .map(line -> new LineView(line.times(), ProbeText.print(line.connection())))
            .toList(),
        all - lines.size());
  }

  /** A tape as CSV, with the applications that its connections are by the signatures in force. */
  @GET
  @Path("rulebases/{id}/tapes/{name}")
  @Produces(CSV)
  public StreamingOutput export(@PathParam("id") String id, @PathParam("name") String name) {
    TapeStore.Kept kept = stored(id, name);
    Optional<TapeColumns> tape =
        editor.snapshot(id).recorded().tapes().stream()
            .filter(one -> one.name().equals(name))
            .filter(one -> kept.csv() == null || kept.samples() != null)
            .findFirst();
    return to -> {
      Writer out = new BufferedWriter(new OutputStreamWriter(to, StandardCharsets.UTF_8), 1 << 16);
      if (tape.isPresent()) {
        TapeCsv.write(tape.get(), out);
      } else {
        out.write(String.valueOf(kept.csv()));
      }
      out.flush();
    };
  }

  /**
   * Keeps a tape; all of it, or, with a fault, nothing. Where there is one of that name it stands
   * beside it, under the name with a number, or, with {@code Sieve-Existing: replace}, in its
   * place; what is replaced can be brought back for thirty days. The body is a file in any of the
   * formats. Before it may stand a TLS key log, whose length in bytes the header {@code
   * Sieve-Keys-Length} says, and a list of who signed in where, of {@code Sieve-Sign-Ins-Length}
   * bytes; {@code Sieve-Sign-Ins-Hours} says how long somebody is taken for there who is not heard
   * of again. Which column of a table says what stands as JSON, percent-encoded, in {@code
   * Sieve-Mapping}. What connections showed that keys opened is kept as samples only with {@code
   * Sieve-Keep-Opened: true}.
   */
  @PUT
  @Path("rulebases/{id}/tapes/{name}")
  @Consumes({Uploads.TYPE, CSV})
  public HitsView load(
      @PathParam("id") String id,
      @PathParam("name") String name,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam("Sieve-Keys-Length") @DefaultValue("0") long keysLength,
      @HeaderParam("Sieve-Sign-Ins-Length") @DefaultValue("0") long signInsLength,
      @HeaderParam("Sieve-Sign-Ins-Hours") @DefaultValue("10") int signInsHours,
      @HeaderParam("Sieve-Mapping") @DefaultValue("") String mapping,
      @HeaderParam("Sieve-Keep-Opened") @DefaultValue("false") boolean keepsOpened,
      @HeaderParam("Sieve-Existing") @DefaultValue("beside") String existing) {
    if (!existing.equals("beside") && !existing.equals("replace")) {
      throw new FaultException(
          "tape " + name, "Sieve-Existing", "beside or replace, not \"" + existing + "\"");
    }
    FaultException.demandName("tape", "name", name, LONGEST_NAME);
    return view(
        tapeEditor.record(
            id,
            existing.equals("replace") ? name : tapes.freeName(id, name),
            who,
            uploaded(),
            new TapeFile.Before(
                keysLength, signInsLength, Duration.ofHours(signInsHours), keepsOpened),
            java.net.URLDecoder.decode(mapping, StandardCharsets.UTF_8),
            work.progress()));
  }

  private java.nio.file.Path uploaded() {
    return java.nio.file.Path.of(request.<String>get(Uploads.FILE));
  }

  /**
   * How much of a tape was seen before a day, and would go; {@code isAll} if nothing would stay.
   */
  @Schema(requiredProperties = {"lines", "times", "before", "isAll"})
  public record OlderView(long lines, long times, LocalDate before, boolean isAll) {}

  /** What of a tape was seen before a day, or is older than so many days. */
  @GET
  @Path("rulebases/{id}/tapes/{name}/older")
  public OlderView older(
      @PathParam("id") String id,
      @PathParam("name") String name,
      @QueryParam("before") @DefaultValue("") String before,
      @QueryParam("days") Integer days) {
    LocalDate first = days == null ? day(before) : retention.first(days);
    TapeColumns.Before seen = tapeEditor.seenBefore(id, stored(id, name), first);
    return new OlderView(seen.lines(), seen.times(), first, seen.isAll());
  }

  /** Takes what was seen before a day off a tape. */
  @DELETE
  @Path("rulebases/{id}/tapes/{name}/older")
  public HitsView forget(
      @PathParam("id") String id,
      @PathParam("name") String name,
      @QueryParam("before") @DefaultValue("") String before) {
    return view(tapeEditor.forget(id, stored(id, name), day(before)));
  }

  /** How many days of a tape are kept; nothing for all. */
  public record KeepRequest(Integer days) {}

  /** Says how many days of a tape are kept; what is older goes at once, and then every hour. */
  @PUT
  @Path("rulebases/{id}/tapes/{name}/keep")
  @Consumes(MediaType.APPLICATION_JSON)
  public HitsView keep(
      @PathParam("id") String id, @PathParam("name") String name, KeepRequest asked) {
    Integer days = asked == null ? null : asked.days();
    if (days != null) {
      retention.first(days);
    }
    if (!tapes.keepDays(id, name, days)) {
      throw missing(id, name);
    }
    retention.expire(id, stored(id, name));
    return view(editor.snapshot(id));
  }

  private static LocalDate day(String text) {
    try {
      return LocalDate.parse(text);
    } catch (DateTimeException e) {
      throw new FaultException("tape", "before", "a day such as 2026-11-02, not \"" + text + "\"");
    }
  }

  /** What the table in a body looks like: its columns, what they are taken for, its first lines. */
  @POST
  @Path("rulebases/{id}/tapes/look")
  @Consumes({Uploads.TYPE, CSV})
  public LookView look(@PathParam("id") String id) {
    LogTable.Look look = TapeFile.look(uploaded());
    return new LookView(
        look.columns(),
        look.guessed(),
        look.lines(),
        java.util.Arrays.stream(LogField.values()).map(LogField::word).toList());
  }

  /** A table before it is read; {@code fields} are those a column can be for. */
  @Schema(requiredProperties = {"columns", "guessed", "lines", "fields"})
  public record LookView(
      List<String> columns,
      Map<String, String> guessed,
      List<Map<String, String>> lines,
      List<String> fields) {}

  /** Something that listens for live traffic, and what came in. */
  @Schema(
      requiredProperties = {
        "tape",
        "kind",
        "transport",
        "port",
        "received",
        "refused",
        "lost",
        "trouble"
      })
  public record ListenerView(
      String tape,
      String kind,
      String transport,
      int port,
      long received,
      long refused,
      long lost,
      String trouble) {}

  /**
   * What is to listen: {@code syslog} or {@code ipfix} over {@code udp}, {@code tcp}, {@code tls}.
   */
  @Schema(requiredProperties = {"kind", "transport", "port"})
  public record ListenRequest(String kind, String transport, int port) {}

  private static ListenerView listener(Listeners.State one) {
    return new ListenerView(
        one.tape(),
        one.kind(),
        one.transport(),
        one.port(),
        one.received(),
        one.refused(),
        one.lost(),
        one.trouble());
  }

  /** What listens for live traffic of a rulebase on this server. */
  @GET
  @Path("rulebases/{id}/listeners")
  public List<ListenerView> listeners(@PathParam("id") String id) {
    editor.snapshot(id);
    return listeners.of(id).stream().map(TapeResource::listener).toList();
  }

  /** Begins to listen for a tape. */
  @PUT
  @Path("rulebases/{id}/listeners/{tape}")
  @Consumes(MediaType.APPLICATION_JSON)
  public ListenerView listen(
      @PathParam("id") String id, @PathParam("tape") String tape, ListenRequest asked) {
    if (asked == null || asked.kind() == null || asked.transport() == null) {
      throw new FaultException(
          "listener", "kind", "say what listens: syslog or ipfix, and over what");
    }
    FaultException.demandName("listener", "tape", tape, LONGEST_NAME);
    editor.snapshot(id);
    return listener(listeners.start(id, tape, asked.kind(), asked.transport(), asked.port()));
  }

  /** Stops listening; what came in stays on the tape. */
  @DELETE
  @Path("rulebases/{id}/listeners/{tape}")
  public List<ListenerView> unlisten(@PathParam("id") String id, @PathParam("tape") String tape) {
    if (!listeners.stop(id, tape)) {
      throw UnknownException.of(
          "listener", tape, listeners.of(id).stream().map(Listeners.State::tape).toList());
    }
    return listeners(id);
  }

  @DELETE
  @Path("rulebases/{id}/tapes/{name}")
  public HitsView remove(@PathParam("id") String id, @PathParam("name") String name) {
    if (!tapes.remove(id, name)) {
      throw missing(id, name);
    }
    return view(editor.snapshot(id));
  }

  /** A tape that was removed or replaced and can be brought back. */
  @Schema(requiredProperties = {"number", "name", "gone", "who"})
  public record GoneTapeView(int number, String name, Instant gone, String who) {}

  /** The tapes that were removed or replaced in the last thirty days. */
  @GET
  @Path("rulebases/{id}/tapes-gone")
  public List<GoneTapeView> gone(@PathParam("id") String id) {
    editor.snapshot(id);
    return tapes.gone(id).stream()
        .map(one -> new GoneTapeView(one.number(), one.name(), one.gone(), one.who()))
        .toList();
  }

  /** Brings a tape back, beside the one that has its name now. */
  @POST
  @Path("rulebases/{id}/tapes-gone/{number}")
  public HitsView bringBack(@PathParam("id") String id, @PathParam("number") int number) {
    editor.snapshot(id);
    if (tapes.bringBack(id, number).isEmpty()) {
      throw UnknownException.of(
          "removed tape",
          String.valueOf(number),
          tapes.gone(id).stream().map(one -> String.valueOf(one.number())).toList());
    }
    return view(editor.snapshot(id));
  }

  private TapeStore.Kept stored(String id, String name) {
    return tapes.one(id, name).orElseThrow(() -> missing(id, name));
  }

  private UnknownException missing(String id, String name) {
    Recorded recorded = editor.snapshot(id).recorded();
    Set<String> known = new TreeSet<>(recorded.unread().keySet());
    recorded.tapes().forEach(tape -> known.add(tape.name()));
    return UnknownException.of("tape", name, known);
  }
}
