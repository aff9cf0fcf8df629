package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.FaultException;
import ironsieve.model.Service;
import ironsieve.recorded.TapeColumns;
import ironsieve.region.Address;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.store.Company;
import ironsieve.traffic.identify.Identifier;
import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.signature.Clashes;
import ironsieve.traffic.signature.Proposals;
import ironsieve.traffic.signature.Signature;
import ironsieve.traffic.signature.SignatureBook;
import ironsieve.traffic.signature.SignatureMatcher.Match;
import ironsieve.traffic.signature.SignatureText;
import ironsieve.traffic.signature.Unit;
import jakarta.inject.Inject;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** How applications are recognised: found, proposed, and tried on all recorded traffic. */
@Path("/api")
@Blocking
@Produces(MediaType.APPLICATION_JSON)
@Consumes(MediaType.APPLICATION_JSON)
public class SignatureResource {

  private static final int MOST_FOUND = 50;
  private static final int MOST_CLASHES = 20;
  private static final Address SOMEWHERE = Address.parse("203.0.113.10");

  @Inject Company company;
  @Inject Editor editor;

  /** An application or feature that fits, by which signatures and which facts. */
  @Schema(requiredProperties = {"application", "own", "signatures", "why"})
  public record FoundView(
      String application, String feature, boolean own, List<String> signatures, List<String> why) {}

  /** What fits a name, an address, a path or a piece of a signature. */
  @Schema(requiredProperties = {"found", "more"})
  public record FoundAnswer(List<FoundView> found, int more) {}

  /** Terms that hold of a fact, widest first. */
  @Schema(requiredProperties = {"field", "value", "terms"})
  public record ProposalView(String field, String header, String value, List<String> terms) {}

  /** Signatures of an application that somebody thinks about. */
  @Schema(requiredProperties = {"application", "signatures"})
  public record TryRequest(
      String application, List<String> features, List<String> ridesOn, List<String> signatures) {}

  /**
   * How many recorded connections would be an application's that are now another's, or nobody's.
   */
  @Schema(requiredProperties = {"application", "times", "bytes"})
  public record TakenView(String application, long times, long bytes) {}

  /**
   * What signatures would do to recorded traffic: how many connections they recognise in all, and
   * from whom these come; with what cannot be read, and with which others they cannot be told
   * apart.
   */
  @Schema(requiredProperties = {"problems", "times", "bytes", "taken", "clashes"})
  public record TryAnswer(
      List<String> problems, long times, long bytes, List<TakenView> taken, List<String> clashes) {}

  private SignatureBook book() {
    return company.signatures(company.newest().contents());
  }

  /** Which applications and features a name, address or path belongs to, and why. */
  @GET
  @Path("signatures")
  public FoundAnswer find(@QueryParam("find") @DefaultValue("") String find) {
    String wanted = find.strip();
    if (wanted.isEmpty()) {
      throw new FaultException("signatures", "find", "say a name, an address, a path or a word");
    }
    SignatureBook book = book();
    Map<String, FoundView> found = new LinkedHashMap<>();
    Identifier identifier = new Identifier(book.matcher());
    for (Unit unit : units(wanted)) {
      for (Match match : identifier.all(unit)) {
        found.putIfAbsent(match.application() + "/" + match.feature().orElse(""), view(match));
      }
    }
    // What is only written in a signature is found too.
    String lower = wanted.toLowerCase(java.util.Locale.ROOT);
    for (Signature signature : book.signatures()) {
      String text = SignatureText.print(signature);
      boolean isIn =
          text.toLowerCase(java.util.Locale.ROOT).contains(lower)
              || signature.application().toLowerCase(java.util.Locale.ROOT).contains(lower);
      if (isIn) {
        found.putIfAbsent(
            signature.application() + "/" + signature.feature().orElse(""),
            new FoundView(
                signature.application(),
                signature.feature().orElse(null),
                signature.isOwn(),
                List.of(text),
                List.of()));
      }
    }
    return new FoundAnswer(
        found.values().stream().limit(MOST_FOUND).toList(), Math.max(0, found.size() - MOST_FOUND));
  }

  /** What a text may be that a connection shows. */
  private static List<Unit> units(String wanted) {
    List<Unit> units = new ArrayList<>();
    String name = wanted.replaceFirst("^[a-z]+://", "");
    int slash = name.indexOf('/');
    String host = slash < 0 ? name : name.substring(0, slash);
    String path = slash < 0 ? "" : name.substring(slash);
    List<Fact> request = new ArrayList<>();
    if (!path.isEmpty()) {
      request.add(Fact.of(Field.PATH, path));
    }
    Address server = SOMEWHERE;
    try {
      server = Address.parse(host);
    } catch (IllegalArgumentException e) {
      // A name.
    }
    List<String> methods = path.isEmpty() ? List.of("") : List.of("GET", "POST", "PUT", "DELETE");
    for (String method : methods) {
      ConnectionFacts shown = new ConnectionFacts(new Service(Service.TCP, 443), server);
      List<Fact> all = new ArrayList<>(request);
      if (!method.isEmpty()) {
        all.add(Fact.of(Field.METHOD, method));
      }
      if (!host.isEmpty()) {
        shown.add(Fact.of(Field.SERVER_NAME, host));
        all.add(Fact.of(Field.HOST, host));
        all.add(Fact.of(Field.DNS_NAME, host));
      }
      units.add(new Unit(shown, all));
    }
    return units;
  }

  private static FoundView view(Match match) {
    return new FoundView(
        match.application(),
        match.feature().orElse(null),
        match.signature().isOwn(),
        Stream.concat(Stream.of(match.signature()), match.featureSignature().stream())
            .map(SignatureText::print)
            .distinct()
            .toList(),
        match.why().stream().map(Fact::toString).distinct().toList());
  }

  /** Terms that hold of what a connection showed, fact by fact. */
  @GET
  @Path("rulebases/{id}/tapes/{tape}/samples/{number}/proposals")
  public List<ProposalView> proposals(
      @PathParam("id") String id, @PathParam("tape") String tape, @PathParam("number") int number) {
    Unit unit =
        TrafficResource.unit(editor.snapshot(id), tape, number)
            .orElseThrow(
                () -> new FaultException("tape " + tape, "sample", "there is no sample " + number));
    return unit.facts()
        .filter(fact -> fact.field() != Field.PROTOCOL)
        .map(
            fact ->
                new ProposalView(
                    fact.field().word(),
                    fact.header().isEmpty() ? null : fact.header(),
                    fact.field().kind() == Field.Kind.BYTES ? "" : fact.text(),
                    Proposals.of(fact)))
        .toList();
  }

  /** What signatures would do to all recorded traffic of a rulebase, without saving them. */
  @POST
  @Path("rulebases/{id}/signatures/try")
  public TryAnswer tried(@PathParam("id") String id, TryRequest asked) {
    if (asked == null || asked.application() == null || asked.application().isBlank()) {
      throw new FaultException("signatures", "application", "say which application it is");
    }
    RulebaseSnapshot snapshot = editor.snapshot(id);
    SignatureBook before = book();
    SignatureBook after = with(before, asked);
    List<String> problems =
        after.problems().stream()
            .filter(problem -> problem.application().equals(asked.application()))
            .map(SignatureBook.Problem::sentence)
            .toList();
    Map<String, TakenView> taken = new HashMap<>();
    long times = 0;
    long bytes = 0;
    Identifier now = new Identifier(before.matcher());
    Identifier then = new Identifier(after.matcher());
    for (TapeColumns tape : snapshot.recorded().tapes()) {
      List<Unit> samples = snapshot.recorded().samples(tape.name());
      String[] was = new String[samples.size()];
      boolean[] isNew = new boolean[samples.size()];
      for (int i = 0; i < samples.size(); i++) {
        Optional<String> becomes = then.use(samples.get(i)).application();
        isNew[i] = becomes.equals(Optional.of(asked.application()));
        was[i] = now.use(samples.get(i)).application().orElse("");
      }
      long[][] sums = tape.sumsBySample(isNew.length);
      for (int i = 0; i < isNew.length; i++) {
        long more = sums[0][i];
        long moreBytes = sums[1][i] + sums[2][i];
        if (!isNew[i] || more == 0) {
          continue;
        }
        times += more;
        bytes += moreBytes;
        if (!was[i].equals(asked.application())) {
          taken.merge(
              was[i],
              new TakenView(was[i], more, moreBytes),
              (known, other) ->
                  new TakenView(
                      known.application(),
                      known.times() + other.times(),
                      known.bytes() + other.bytes()));
        }
      }
    }
    return new TryAnswer(
        problems,
        times,
        bytes,
        taken.values().stream()
            .sorted(Comparator.comparingLong(TakenView::times).reversed())
            .toList(),
        Clashes.of(after).stream()
            .filter(
                clash ->
                    clash.first().application().equals(asked.application())
                        || clash.second().application().equals(asked.application()))
            .limit(MOST_CLASHES)
            .map(Clashes.Clash::sentence)
            .toList());
  }

  /** The same signatures with those of one application in the place of what it has. */
  private static SignatureBook with(SignatureBook before, TryRequest asked) {
    List<SignatureBook.Written> all = new ArrayList<>();
    before.texts().stream()
        .filter(one -> !one.application().equals(asked.application()))
        .forEach(all::add);
    all.add(
        new SignatureBook.Written(
            asked.application(),
            true,
            asked.features() == null ? List.of() : asked.features(),
            asked.ridesOn() == null ? List.of() : asked.ridesOn(),
            asked.signatures() == null ? List.of() : asked.signatures()));
    return new SignatureBook(all);
  }
}
