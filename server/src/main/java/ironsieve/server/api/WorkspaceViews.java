package ironsieve.server.api;

import ironsieve.compile.Names;
import ironsieve.compile.SetComparison;
import ironsieve.files.Documents.GroupDoc;
import ironsieve.files.Documents.PersonDoc;
import ironsieve.files.Documents.ZoneDoc;
import ironsieve.files.WorkspaceContents;
import ironsieve.impact.Impact;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.Parts;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.Line;
import ironsieve.region.Range;
import ironsieve.region.RangeSet;
import ironsieve.server.edit.WorkspaceImpact;
import ironsieve.server.edit.WorkspacePlans;
import ironsieve.server.store.RulebaseStore;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** What the workspace looks like in the API. */
final class WorkspaceViews {

  private WorkspaceViews() {}

  /**
   * The workspace at a glance; {@code begun} unless nothing at all is there yet. {@code undo} and
   * {@code redo} say what the editor can take back.
   */
  @Schema(
      requiredProperties = {
        "version",
        "begun",
        "organisation",
        "edition",
        "zones",
        "people",
        "groups",
        "applications",
        "sets",
        "rulebases"
      })
  record WorkspaceView(
      long version,
      boolean begun,
      String organisation,
      int edition,
      int zones,
      int people,
      int groups,
      int applications,
      int sets,
      List<CardView> rulebases,
      String undo,
      String redo) {}

  /** One rulebase; {@code standing} is active, archived or removed. */
  @Schema(requiredProperties = {"id", "name", "standing", "revision", "rules"})
  record CardView(String id, String name, String standing, long revision, int rules) {}

  static CardView card(RulebaseStore.Head head) {
    return new CardView(
        head.id(), head.name(), head.standing(), head.state().revision(), head.rules());
  }

  /** The zones, and the line of addresses with the zones that have them. */
  @Schema(requiredProperties = {"version", "zones", "line"})
  record ZonesView(long version, List<ZoneView> zones, List<BandView> line) {}

  /** One zone; without networks it has all that lies behind no other zone. */
  @Schema(requiredProperties = {"name", "side", "networks", "note", "position"})
  record ZoneView(String name, String side, List<String> networks, String note, int position) {}

  /**
   * A run of addresses behind the same zones: two or more where they overlap, none where nobody has
   * them. {@code named} unless a zone has them only because no other has.
   */
  @Schema(requiredProperties = {"from", "to", "version", "zones", "named", "size"})
  record BandView(
      String from, String to, String version, List<String> zones, boolean named, String size) {}

  static ZonesView zones(long version, WorkspaceContents contents, Environment environment) {
    return new ZonesView(
        version,
        contents.zones().stream().map(WorkspaceViews::zone).toList(),
        line(environment.zones()));
  }

  private static ZoneView zone(ZoneDoc doc) {
    int place = doc.position() == null ? 0 : doc.position();
    return new ZoneView(doc.name(), doc.side(), doc.networks(), doc.note(), place);
  }

  private static List<BandView> line(List<Zone> zones) {
    TreeSet<Address> cuts = new TreeSet<>();
    cuts.add(Line.ADDRESSES.first());
    cuts.add(Address.first(Address.Version.V6));
    for (Zone zone : zones) {
      for (Range<Address> range : zone.networks()) {
        cuts.add(range.low());
        if (!range.high().equals(Line.ADDRESSES.last())) {
          cuts.add(Line.ADDRESSES.after(range.high()));
        }
      }
    }
    List<RangeSet<Address>> named = Zone.named(zones);
    List<BandView> bands = new ArrayList<>();
    List<Address> starts = List.copyOf(cuts);
    for (int i = 0; i < starts.size(); i++) {
      Address low = starts.get(i);
      Address high =
          i + 1 < starts.size() ? Line.ADDRESSES.before(starts.get(i + 1)) : Line.ADDRESSES.last();
      List<String> holding = new ArrayList<>();
      boolean isNamed = false;
      for (int z = 0; z < zones.size(); z++) {
        if (named.get(z).contains(low)) {
          holding.add(zones.get(z).name());
          isNamed |= !zones.get(z).networks().isEmpty();
        }
      }
      add(bands, low, high, holding, isNamed);
    }
    return bands;
  }

  /** Neighbours behind the same zones are one band. */
  private static void add(
      List<BandView> bands, Address low, Address high, List<String> zones, boolean named) {
    String version = low.version().word();
    Address begun = low;
    if (!bands.isEmpty()) {
      BandView last = bands.get(bands.size() - 1);
      if (last.zones().equals(zones) && last.version().equals(version)) {
        begun = Address.parse(last.from());
        bands.remove(bands.size() - 1);
      }
    }
    bands.add(
        new BandView(
            begun.toString(),
            high.toString(),
            version,
            zones,
            named,
            Line.ADDRESSES.count(begun, high).toString()));
  }

  /** The named sets that all rulebases share; which of them hold the same or lie inside others. */
  @Schema(requiredProperties = {"version", "sets", "relations"})
  record SharedSetsView(long version, List<SharedSetView> sets, List<SetRelationView> relations) {}

  /** A set that lies inside another, or holds the same. */
  @Schema(requiredProperties = {"kind", "one", "other", "same"})
  record SetRelationView(String kind, String one, String other, boolean same) {}

  static List<SetRelationView> relations(Environment environment) {
    return SetComparison.of(environment.sets(), new Names(Parts.of(List.of()), environment))
        .stream()
        .map(
            relation ->
                new SetRelationView(
                    relation.kind().word(), relation.one(), relation.other(), relation.same()))
        .toList();
  }

  /** One of them. */
  @Schema(requiredProperties = {"kind", "name", "values", "note"})
  record SharedSetView(String kind, String name, List<String> values, String note) {}

  /**
   * Some of the directory.
   *
   * @param people how many people there are
   * @param matching how many of them fit what was asked for; {@code shown} are some of those
   * @param inNoGroup how many of all people no group has; {@code firstInNoGroup} are some of those
   */
  @Schema(
      requiredProperties = {
        "version",
        "people",
        "matching",
        "shown",
        "inNoGroup",
        "firstInNoGroup",
        "groups",
        "deviceKinds"
      })
  record DirectoryView(
      long version,
      int people,
      int matching,
      List<PersonView> shown,
      int inNoGroup,
      List<PersonView> firstInNoGroup,
      List<GroupView> groups,
      List<String> deviceKinds) {}

  /** One person, with all the groups they are in, directly or not. */
  @Schema(requiredProperties = {"login", "name", "groups", "allGroups", "attributes", "source"})
  record PersonView(
      String login,
      String name,
      List<String> groups,
      List<String> allGroups,
      Map<String, String> attributes,
      String source) {}

  /** One group, and how many people are in it, directly or not. */
  @Schema(requiredProperties = {"name", "parents", "note", "members", "source"})
  record GroupView(String name, List<String> parents, String note, int members, String source) {}

  static PersonView person(PersonDoc doc, Directory directory) {
    return new PersonView(
        doc.login(),
        doc.name(),
        doc.groups(),
        directory
            .person(doc.login())
            .map(person -> directory.groupsOf(person).stream().sorted().toList())
            .orElse(List.of()),
        doc.attributes(),
        doc.source());
  }

  static List<GroupView> groups(WorkspaceContents contents, Directory directory) {
    Map<String, Integer> members = new HashMap<>();
    directory
        .people()
        .forEach(
            person ->
                directory.groupsOf(person).forEach(group -> members.merge(group, 1, Integer::sum)));
    List<GroupView> views = new ArrayList<>();
    for (GroupDoc group : contents.groups()) {
      views.add(
          new GroupView(
              group.name(),
              group.parents(),
              group.note(),
              members.getOrDefault(group.name(), 0),
              group.source()));
    }
    return views;
  }

  /**
   * What a change would do: how many records it changes, and each rulebase with what is different.
   */
  @Schema(requiredProperties = {"version", "changes", "checked", "rulebases"})
  record WorkspaceImpactView(
      long version, int changes, int checked, List<OnRulebaseView> rulebases) {}

  static WorkspaceImpactView impact(
      WorkspacePlans.Planned planned, WorkspaceImpact.OnAll<OnRulebaseView> all) {
    return new WorkspaceImpactView(
        planned.before().version(), planned.changes().size(), all.checked(), all.noticing());
  }

  /** What it would do to one rulebase. */
  @Schema(
      requiredProperties = {
        "id",
        "name",
        "complete",
        "kinds",
        "ended",
        "begun",
        "broken",
        "mended",
        "unknown"
      })
  record OnRulebaseView(
      String id,
      String name,
      boolean complete,
      List<ImpactViews.KindView> kinds,
      List<ImpactViews.NoticeView> ended,
      List<ImpactViews.NoticeView> begun,
      List<String> broken,
      List<String> mended,
      List<String> unknown) {}

  static OnRulebaseView onRulebase(WorkspaceImpact.OnRulebase on) {
    List<String> known = on.before().compiled().unknownNames();
    return new OnRulebaseView(
        on.before().contents().id(),
        on.before().contents().name(),
        on.impact().extent() == Impact.Extent.COMPLETE,
        on.impact().kinds().stream().map(ImpactViews::kind).toList(),
        ImpactViews.notices(on.aftermath().ended()),
        ImpactViews.notices(on.aftermath().begun()),
        ImpactViews.newlyBroken(on.before(), on.after()),
        ImpactViews.newlyBroken(on.after(), on.before()),
        on.after().compiled().unknownNames().stream()
            .filter(name -> !known.contains(name))
            .toList());
  }

  /** One change of the workspace. */
  @Schema(requiredProperties = {"version", "at", "who", "reason", "what", "action"})
  record WorkspaceEntryView(
      long version, Instant at, String who, String reason, String what, String action) {}
}
