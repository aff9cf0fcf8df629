package ironsieve.files;

import ironsieve.files.Documents.AddressListDoc;
import ironsieve.files.Documents.ApplicationDoc;
import ironsieve.files.Documents.AtlasDoc;
import ironsieve.files.Documents.CountryDoc;
import ironsieve.files.Documents.DeviceKindDoc;
import ironsieve.files.Documents.EditionDoc;
import ironsieve.files.Documents.GroupDoc;
import ironsieve.files.Documents.HostDoc;
import ironsieve.files.Documents.OrganisationDoc;
import ironsieve.files.Documents.PersonDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.Documents.SiteDoc;
import ironsieve.files.Documents.SourceDoc;
import ironsieve.files.Documents.ZoneDoc;
import ironsieve.model.Application;
import ironsieve.model.Catalogue;
import ironsieve.model.Environment;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.function.IntFunction;

/**
 * Everything the rulebases of a workspace are read against, as records by kind and id. Copied
 * before it is changed, so what anybody sees is never half a change; records of a kind are in the
 * order of their ids, so two workspaces that say the same are written the same.
 */
public final class WorkspaceContents {

  private final Map<WorkspaceKind, Map<String, Object>> records;

  private WorkspaceContents(Map<WorkspaceKind, Map<String, Object>> records) {
    this.records = records;
  }

  /** A workspace in which nothing is known. */
  public static WorkspaceContents empty() {
    Map<WorkspaceKind, Map<String, Object>> records = new EnumMap<>(WorkspaceKind.class);
    for (WorkspaceKind kind : WorkspaceKind.values()) {
      records.put(kind, new TreeMap<>());
    }
    return new WorkspaceContents(records);
  }

  /** A copy that can be changed while this stays what it is. */
  public WorkspaceContents copy() {
    Map<WorkspaceKind, Map<String, Object>> copied = new EnumMap<>(WorkspaceKind.class);
    records.forEach((kind, docs) -> copied.put(kind, new TreeMap<>(docs)));
    return new WorkspaceContents(copied);
  }

  /** Adds a record, or puts it in the place of the one with its id. */
  public void put(WorkspaceKind kind, Object doc) {
    records.get(kind).put(kind.id(doc), doc);
  }

  /** Takes a record out, if it is there. */
  public void remove(WorkspaceKind kind, String id) {
    records.get(kind).remove(id);
  }

  /**
   * Puts other names in the place of those of groups wherever somebody or another group lies in
   * one.
   *
   * @param name what a group is called from now on; nothing where nobody lies in it any more
   */
  public void regroup(Function<String, Optional<String>> name) {
    for (PersonDoc person : List.copyOf(people())) {
      List<String> groups = renamed(person.groups(), name);
      if (!groups.equals(person.groups())) {
        put(
            WorkspaceKind.PERSON,
            new PersonDoc(
                person.login(), person.name(), groups, person.attributes(), person.source()));
      }
    }
    for (GroupDoc group : List.copyOf(groups())) {
      List<String> parents = renamed(group.parents(), name);
      if (!parents.equals(group.parents())) {
        put(WorkspaceKind.GROUP, new GroupDoc(group.name(), parents, group.note(), group.source()));
      }
    }
  }

  private static List<String> renamed(
      List<String> groups, Function<String, Optional<String>> name) {
    return groups.stream().map(name).flatMap(Optional::stream).toList();
  }

  /** All records of a kind by id. */
  public Map<String, Object> records(WorkspaceKind kind) {
    return Collections.unmodifiableMap(records.get(kind));
  }

  /** The record with an id, if there is one. */
  public Optional<Object> record(WorkspaceKind kind, String id) {
    return Optional.ofNullable(records.get(kind).get(id));
  }

  /** The zones in their order. */
  public List<ZoneDoc> zones() {
    return this.<ZoneDoc>all(WorkspaceKind.ZONE).stream()
        .sorted(
            Comparator.comparing(
                zone -> zone.position() == null ? Integer.MAX_VALUE : zone.position()))
        .toList();
  }

  public Collection<GroupDoc> groups() {
    return all(WorkspaceKind.GROUP);
  }

  public Collection<PersonDoc> people() {
    return all(WorkspaceKind.PERSON);
  }

  /** The kinds of device in their order. */
  public List<String> deviceKinds() {
    return this.<DeviceKindDoc>all(WorkspaceKind.DEVICE_KIND).stream()
        .sorted(Comparator.comparing(DeviceKindDoc::position))
        .map(DeviceKindDoc::name)
        .toList();
  }

  /** The organisation's own applications, beside those of the edition in force. */
  public Collection<ApplicationDoc> applications() {
    return all(WorkspaceKind.APPLICATION);
  }

  public Collection<SetDoc> sets() {
    return all(WorkspaceKind.SET);
  }

  /** Where some of this is kept current from. */
  public Collection<SourceDoc> sources() {
    return all(WorkspaceKind.SOURCE);
  }

  /** The number of the edition in force; 0 if there is none. */
  public int edition() {
    return record(WorkspaceKind.EDITION, WorkspaceKind.ONLY)
        .map(doc -> ((EditionDoc) doc).number())
        .orElse(0);
  }

  /** What the organisation is called; empty if nobody said. */
  public String organisation() {
    return record(WorkspaceKind.ORGANISATION, WorkspaceKind.ONLY)
        .map(doc -> ((OrganisationDoc) doc).name())
        .orElse("");
  }

  /** What is known of addresses and host names. */
  public AtlasDoc atlas() {
    Map<String, List<String>> countries = new TreeMap<>();
    this.<CountryDoc>all(WorkspaceKind.COUNTRY)
        .forEach(doc -> countries.put(doc.code(), doc.networks()));
    Map<String, List<String>> lists = new TreeMap<>();
    this.<AddressListDoc>all(WorkspaceKind.ADDRESS_LIST)
        .forEach(doc -> lists.put(doc.name(), doc.addresses()));
    Map<String, List<String>> hosts = new TreeMap<>();
    this.<HostDoc>all(WorkspaceKind.HOST).forEach(doc -> hosts.put(doc.host(), doc.addresses()));
    return new AtlasDoc(
        countries, lists, hosts, List.copyOf(this.<SiteDoc>all(WorkspaceKind.SITE)));
  }

  @SuppressWarnings("unchecked") // put() takes care that a kind holds documents of its own type.
  private <T> Collection<T> all(WorkspaceKind kind) {
    return (Collection<T>) (Collection<?>) records.get(kind).values();
  }

  /**
   * What rulebases are read against. A record that cannot be read takes no part.
   *
   * @param editions the applications of an edition of the catalogue by its number
   */
  public Environment environment(IntFunction<Catalogue> editions, LocalDate today) {
    Catalogue edition = editions.apply(edition());
    List<Application> applications = new ArrayList<>(edition.applications());
    for (Application own : readable(applications(), DocumentReader::application)) {
      applications.removeIf(application -> application.name().equals(own.name()));
      applications.add(own);
    }
    return new Environment(
        readable(zones(), DocumentReader::zone),
        DocumentReader.directory(List.copyOf(people()), List.copyOf(groups())),
        deviceKinds(),
        new Catalogue(edition.edition(), applications),
        DocumentReader.atlas(atlas()),
        readable(sets(), DocumentReader::set),
        today);
  }

  private static <D, T> List<T> readable(Collection<D> docs, Function<D, T> reader) {
    List<T> read = new ArrayList<>();
    for (D doc : docs) {
      try {
        read.add(reader.apply(doc));
      } catch (FaultException e) {
        // A version of this that wrote something else; what is left out is named where it is used.
      }
    }
    return read;
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof WorkspaceContents contents && records.equals(contents.records);
  }

  @Override
  public int hashCode() {
    return records.hashCode();
  }
}
