package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.FaultException;
import ironsieve.files.WorkspaceKind;
import ironsieve.model.Application;
import ironsieve.model.FieldName;
import ironsieve.model.ValueKind;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.sources.Sources;
import ironsieve.server.store.Company;
import ironsieve.text.ValueText;
import jakarta.inject.Inject;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.time.Clock;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** What rulebases are read against, and the values their fields can have. */
@Path("/api")
@Produces(MediaType.APPLICATION_JSON)
@Blocking
public class CompanyResource {

  private static final int MOST_CHOICES = 60;

  private static final DateTimeFormatter MOMENT = DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm");

  @Inject Company company;
  @Inject Editor editor;
  @Inject Sources sources;
  @Inject Clock clock;

  /** A field of rules. */
  @Schema(requiredProperties = {"key", "label", "kind"})
  public record FieldInfo(String key, String label, String kind) {}

  /** The catalogue in force. */
  @Schema(requiredProperties = {"edition", "applications"})
  public record CatalogueView(int edition, List<ApplicationView> applications) {}

  /** One application; {@code own} if it is the organisation's and not of the edition. */
  @Schema(
      requiredProperties = {
        "name",
        "category",
        "family",
        "provider",
        "exposure",
        "workValue",
        "usualPorts",
        "ridesOn",
        "needs",
        "features",
        "description",
        "content",
        "own",
        "signatures"
      })
  public record ApplicationView(
      String name,
      String category,
      String family,
      String provider,
      String exposure,
      String workValue,
      List<String> usualPorts,
      List<String> ridesOn,
      List<String> needs,
      List<String> features,
      String description,
      String content,
      boolean own,
      List<String> signatures) {}

  /** A value to choose. */
  @Schema(requiredProperties = {"value", "kind", "detail"})
  public record ChoiceView(String value, String kind, String detail) {}

  /** What a value stands for. */
  @Schema(requiredProperties = {"value", "lines"})
  public record AboutView(String value, List<String> lines) {}

  @GET
  @Path("fields")
  public List<FieldInfo> fields() {
    return Arrays.stream(FieldName.values())
        .map(field -> new FieldInfo(field.key(), field.label(), field.kind().word()))
        .toList();
  }

  @GET
  @Path("catalogue")
  public CatalogueView catalogue() {
    Company.WorkspaceVersion known = company.newest();
    Set<String> own = known.contents().records(WorkspaceKind.APPLICATION).keySet();
    Map<String, List<String>> signatures = new HashMap<>();
    company
        .signatures(known.contents())
        .texts()
        .forEach(one -> signatures.put(one.application(), one.texts()));
    return new CatalogueView(
        known.environment().catalogue().edition(),
        known.environment().catalogue().applications().stream()
            .map(
                application ->
                    view(
                        application,
                        own.contains(application.name()),
                        signatures.getOrDefault(application.name(), List.of())))
            .toList());
  }

  private static ApplicationView view(Application a, boolean own, List<String> signatures) {
    return new ApplicationView(
        a.name(),
        a.grouping().category(),
        a.grouping().family(),
        a.grouping().provider(),
        Views.word(a.worth().exposure()),
        Views.word(a.worth().workValue()),
        a.wiring().usualPorts().stream().map(ValueText::print).toList(),
        a.wiring().ridesOn(),
        a.wiring().needs(),
        a.features(),
        a.description(),
        Views.word(a.wiring().content()),
        own,
        signatures);
  }

  @GET
  @Path("rulebases/{id}/choices")
  public List<ChoiceView> choices(
      @PathParam("id") String id,
      @QueryParam("kind") String kind,
      @QueryParam("text") @DefaultValue("") String text) {
    return values(id).choices(kind(kind), text, MOST_CHOICES).stream()
        .map(choice -> new ChoiceView(choice.value(), choice.kind(), choice.detail()))
        .toList();
  }

  @GET
  @Path("rulebases/{id}/about")
  public AboutView about(
      @PathParam("id") String id,
      @QueryParam("kind") String kind,
      @QueryParam("value") @DefaultValue("") String value) {
    ValueKind of = kind(kind);
    List<String> lines = new ArrayList<>(values(id).about(of, value));
    if (of == ValueKind.NETWORK) {
      keeper(value).ifPresent(lines::add);
    }
    return new AboutView(value, lines);
  }

  private static ValueKind kind(String word) {
    try {
      return ValueKind.ofWord(word == null ? "" : word);
    } catch (IllegalArgumentException e) {
      throw new FaultException("choices", "kind", e.getMessage());
    }
  }

  private ValueCatalogue values(String rulebase) {
    RulebaseSnapshot snapshot = editor.snapshot(rulebase);
    return new ValueCatalogue(snapshot.contents(), snapshot.environment());
  }

  /** Which source keeps a list, a country or a host name current, and when it last did. */
  private Optional<String> keeper(String value) {
    Map<String, WorkspaceKind> kinds =
        Map.of(
            "list", WorkspaceKind.ADDRESS_LIST,
            "country", WorkspaceKind.COUNTRY,
            "host", WorkspaceKind.HOST);
    int space = value.indexOf(' ');
    return space < 0 || !kinds.containsKey(value.substring(0, space))
        ? Optional.empty()
        : sources
            .keeper(kinds.get(value.substring(0, space)), value.substring(space + 1))
            .map(
                kept ->
                    "as "
                        + kept.source()
                        + " had it at "
                        + MOMENT.format(kept.at().atZone(clock.getZone())));
  }
}
