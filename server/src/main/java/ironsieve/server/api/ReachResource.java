package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.FaultException;
import ironsieve.model.Application;
import ironsieve.model.Catalogue;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Zone;
import ironsieve.reach.Cell;
import ironsieve.reach.Matching;
import ironsieve.reach.Reach;
import ironsieve.reach.ZoneGroup;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.edit.UnknownException;
import ironsieve.text.OutcomeText;
import ironsieve.text.ProbeText;
import ironsieve.text.TextException;
import ironsieve.text.ValueText;
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
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** Who can use what. */
@Path("/api")
@Produces(MediaType.APPLICATION_JSON)
@Consumes(MediaType.APPLICATION_JSON)
@Blocking
public class ReachResource {

  private static final int MOST_CELLS = 2_000;

  @Inject Editor editor;

  /** People and applications, as a rule names them, and zones by name; no zones means all. */
  @Schema(requiredProperties = {"people", "applications", "from", "to"})
  public record ReachRequest(
      List<String> people, List<String> applications, List<String> from, List<String> to) {}

  /** The cells, a row for each of the people and a column for each application asked for. */
  @Schema(requiredProperties = {"revision", "state", "people", "applications", "rows"})
  public record ReachView(
      long revision,
      String state,
      List<String> people,
      List<String> applications,
      List<List<CellView>> rows) {}

  /** Whether some people can use something, by which rules, and on what it depends. */
  @Schema(requiredProperties = {"standing", "deciders", "dependsOn", "complete"})
  public record CellView(
      String standing, List<DeciderView> deciders, List<String> dependsOn, boolean complete) {}

  /** One rule that decides some of a cell; empty for the default verdict. */
  @Schema(requiredProperties = {"rule", "outcome", "verdict", "share", "probe"})
  public record DeciderView(
      String rule, String outcome, String verdict, double share, String probe) {}

  /** From each of some zones to each of some zones. */
  @Schema(requiredProperties = {"from", "to"})
  public record WayView(List<String> from, List<String> to) {}

  /** Pairs of zones between which the same can be used, and what that is. */
  @Schema(requiredProperties = {"pairs", "ways", "allowed", "depends", "blocked"})
  public record ZoneGroupView(
      int pairs,
      List<WayView> ways,
      List<String> allowed,
      List<String> depends,
      List<String> blocked) {}

  /** What can be used between each two zones, most of use first; incomplete: too much. */
  @Schema(requiredProperties = {"revision", "state", "groups", "complete"})
  public record ZoneReachView(
      long revision, String state, List<ZoneGroupView> groups, boolean complete) {}

  /** Reach of some people between each two zones; without applications all of the catalogue. */
  @GET
  @Path("rulebases/{id}/reach/zones")
  public ZoneReachView betweenZones(
      @PathParam("id") String id,
      @QueryParam("person") @DefaultValue("") String person,
      @QueryParam("application") List<String> applications) {
    RulebaseSnapshot snapshot = editor.snapshot(id);
    Value who = person(snapshot, person);
    List<Value> what =
        allIfNone(snapshot, given(applications)).stream()
            .map(text -> application(snapshot, text))
            .toList();
    Optional<List<ZoneGroup>> groups =
        new Reach(snapshot.compiled(), new Reach.Zones(List.of(), List.of()), List.of(who), what)
            .betweenZones(who, what);
    return new ZoneReachView(
        snapshot.revision(),
        snapshot.state().token(),
        groups.orElse(List.of()).stream().map(ReachResource::view).toList(),
        groups.isPresent());
  }

  /**
   * Whether the gateway can tell the features of an application apart where it is used.
   *
   * @param seen {@code always}, {@code partly} or {@code never}
   * @param share how much of it, 0 … 1
   */
  @Schema(requiredProperties = {"revision", "state", "seen", "share"})
  public record SightView(long revision, String state, String seen, double share) {}

  /** Whether the features of an application are seen between two zones; none of them: anywhere. */
  @GET
  @Path("rulebases/{id}/sight")
  public SightView sight(
      @PathParam("id") String id,
      @QueryParam("application") @DefaultValue("") String application,
      @QueryParam("from") List<String> from,
      @QueryParam("to") List<String> to) {
    RulebaseSnapshot snapshot = editor.snapshot(id);
    List<String> names = applicationNames(snapshot);
    Application about =
        snapshot
            .environment()
            .catalogue()
            .application(application)
            .orElseThrow(
                () ->
                    UnknownException.fault(
                        "sight", "application", "application", application, names));
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    fields.put(
        FieldName.APPLICATIONS,
        new Field(
            Field.Sense.IS,
            about.features().stream()
                .<Value>map(feature -> new Value.FeatureName(about.name(), feature))
                .toList()));
    put(fields, FieldName.FROM_ZONES, zones(snapshot, from));
    put(fields, FieldName.TO_ZONES, zones(snapshot, to));
    Matching.Sight sight =
        about.features().isEmpty()
            ? new Matching.Sight(0, false, false)
            : Matching.sight(snapshot.compiled(), new Rule.Match(fields, Rule.Ports.ANY));
    return new SightView(
        snapshot.revision(),
        snapshot.state().token(),
        sight.all() ? "always" : sight.some() ? "partly" : "never",
        sight.share());
  }

  private static void put(Map<FieldName, Field> fields, FieldName name, List<String> zones) {
    if (!zones.isEmpty()) {
      fields.put(
          name, new Field(Field.Sense.IS, zones.stream().<Value>map(Value.ZoneName::new).toList()));
    }
  }

  private static ZoneGroupView view(ZoneGroup group) {
    return new ZoneGroupView(
        group.pairs(),
        group.ways().stream().map(way -> new WayView(way.from(), way.to())).toList(),
        texts(group.allowed()),
        texts(group.depends()),
        texts(group.blocked()));
  }

  private static List<String> texts(List<Value> values) {
    return values.stream().map(ValueText::print).toList();
  }

  private static List<String> allIfNone(RulebaseSnapshot snapshot, List<String> applications) {
    return applications.isEmpty() ? applicationNames(snapshot) : applications;
  }

  private static List<String> applicationNames(RulebaseSnapshot snapshot) {
    return snapshot.environment().catalogue().applications().stream()
        .map(Application::name)
        .toList();
  }

  /**
   * Reach of people × applications; without applications all of the catalogue, without people
   * everybody.
   */
  @POST
  @Path("rulebases/{id}/reach")
  public ReachView reach(@PathParam("id") String id, ReachRequest request) {
    RulebaseSnapshot snapshot = editor.snapshot(id);
    List<String> applications =
        allIfNone(snapshot, given(request == null ? null : request.applications()));
    List<String> people = given(request == null ? null : request.people());
    if ((long) Math.max(1, people.size()) * applications.size() > MOST_CELLS) {
      throw new FaultException(
          "reach", "people", "more than " + MOST_CELLS + " cells are too many at once");
    }
    List<Value> who = people.stream().map(text -> person(snapshot, text)).toList();
    List<Value> what = applications.stream().map(text -> application(snapshot, text)).toList();
    Reach reach =
        new Reach(
            snapshot.compiled(),
            new Reach.Zones(
                zones(snapshot, request == null ? null : request.from()),
                zones(snapshot, request == null ? null : request.to())),
            who,
            what);
    List<List<CellView>> rows = new ArrayList<>();
    if (who.isEmpty()) {
      Catalogue catalogue = snapshot.environment().catalogue();
      rows.add(
          applications.stream()
              .map(name -> catalogue.application(name).orElseThrow())
              .map(application -> view(reach.touching(application)))
              .toList());
    }
    for (Value person : who) {
      rows.add(what.stream().map(use -> view(reach.cell(person, use))).toList());
    }
    return new ReachView(snapshot.revision(), snapshot.state().token(), people, applications, rows);
  }

  private static <T> List<T> given(List<T> list) {
    if (list != null && list.stream().anyMatch(Objects::isNull)) {
      throw new FaultException("reach", "", "lists hold names, not null");
    }
    return list == null ? List.of() : list;
  }

  private static List<String> zones(RulebaseSnapshot snapshot, List<String> names) {
    List<String> known = snapshot.environment().zones().stream().map(Zone::name).toList();
    for (String name : given(names)) {
      if (!known.contains(name)) {
        throw UnknownException.fault("reach", "zones", "zone", name, known);
      }
    }
    return given(names);
  }

  private static Value person(RulebaseSnapshot snapshot, String text) {
    return known(snapshot, FieldName.PEOPLE, value(ValueKind.PERSON, "people", text));
  }

  /** What a rule would name; a misspelt application is told with those that come nearest. */
  private static Value application(RulebaseSnapshot snapshot, String text) {
    Value value = value(ValueKind.APPLICATION, "applications", text);
    List<String> names = applicationNames(snapshot);
    if (value instanceof Value.ApplicationName name && !names.contains(name.name())) {
      throw UnknownException.fault("reach", "applications", "application", name.name(), names);
    }
    return known(snapshot, FieldName.APPLICATIONS, value);
  }

  /** A value that stands for something here; nobody is told that somebody unknown is stopped. */
  private static Value known(RulebaseSnapshot snapshot, FieldName field, Value value) {
    snapshot
        .compiled()
        .names()
        .unknown(field.kind(), value)
        .ifPresent(
            problem -> {
              throw new FaultException("reach", field.key(), problem);
            });
    return value;
  }

  private static Value value(ValueKind kind, String field, String text) {
    try {
      return ValueText.parse(kind, text);
    } catch (TextException e) {
      throw new FaultException("reach", field, e.getMessage());
    }
  }

  private static CellView view(Cell cell) {
    return new CellView(
        Views.word(cell.standing()),
        cell.deciders().stream()
            .map(
                decider ->
                    new DeciderView(
                        decider.rule().orElse(""),
                        OutcomeText.print(decider.outcome()),
                        decider.outcome().verdict().word(),
                        decider.share(),
                        ProbeText.print(decider.witness())))
            .toList(),
        cell.dependsOn().stream().map(Reach::word).toList(),
        cell.extent() == Cell.Extent.COMPLETE);
  }
}
