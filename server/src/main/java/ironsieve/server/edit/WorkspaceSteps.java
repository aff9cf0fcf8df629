package ironsieve.server.edit;

import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.DirectoryFile;
import ironsieve.files.DocumentReader;
import ironsieve.files.Documents.AddressListDoc;
import ironsieve.files.Documents.ApplicationDoc;
import ironsieve.files.Documents.DeviceKindDoc;
import ironsieve.files.Documents.GroupDoc;
import ironsieve.files.Documents.PersonDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.Documents.ZoneDoc;
import ironsieve.files.FaultException;
import ironsieve.files.JsonText;
import ironsieve.files.Renaming;
import ironsieve.files.WorkspaceContents;
import ironsieve.files.WorkspaceKind;
import ironsieve.model.Catalogue;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/**
 * Takes steps on a workspace: what is put is checked, and what is taken out is taken out of the
 * records that name it too. Not for several threads at once.
 */
final class WorkspaceSteps implements WorkspaceStep.Visitor {

  private final WorkspaceContents contents;
  private final Catalogue edition;
  private final ObjectMapper json;
  private final List<Object> put = new ArrayList<>();
  private final List<Renaming.Renamed> renamed = new ArrayList<>();

  /**
   * Steps to be taken.
   *
   * @param contents is changed
   * @param edition the applications of the edition in force
   */
  WorkspaceSteps(WorkspaceContents contents, Catalogue edition, ObjectMapper json) {
    this.contents = contents;
    this.edition = edition;
    this.json = json;
  }

  /**
   * Takes steps one after the other; what they lead to must hold together at the end only.
   *
   * @throws FaultException naming the record at fault and what would be right
   */
  void take(List<WorkspaceStep> steps) {
    steps.forEach(step -> step.accept(this));
    put.forEach(this::demandNamed);
    if (put.stream().anyMatch(ApplicationDoc.class::isInstance)) {
      RecordChecks.demandReadable(contents.applications());
    }
  }

  @Override
  public void put(WorkspaceStep.Put step) {
    WorkspaceKind kind = WorkspaceKind.ofWord(step.kind()).orElseThrow();
    Object doc = JsonText.read(json, step.kind(), step.doc().toString(), kind.type());
    Object placed = placed(kind, doc);
    RecordChecks.demandReadable(placed);
    if (kind.id(placed) == null) {
      throw new FaultException(kind.word(), "", "what names it among those of its kind is missing");
    }
    contents.put(kind, placed);
    put.add(placed);
  }

  /** A zone that is new comes after all others. */
  private Object placed(WorkspaceKind kind, Object doc) {
    if (kind != WorkspaceKind.ZONE || ((ZoneDoc) doc).position() != null) {
      return doc;
    }
    ZoneDoc zone = (ZoneDoc) doc;
    Integer known =
        contents
            .record(kind, String.valueOf(zone.name()))
            .map(old -> ((ZoneDoc) old).position())
            .orElse(null);
    int last = contents.zones().stream().mapToInt(WorkspaceSteps::place).max().orElse(-1);
    return zone.at(known == null ? last + 1 : known);
  }

  private static int place(ZoneDoc zone) {
    return zone.position() == null ? -1 : zone.position();
  }

  /** What a record names must be there once all steps are taken. */
  private void demandNamed(Object doc) {
    if (doc instanceof PersonDoc person) {
      person.groups().forEach(group -> demandGroup("person " + person.login(), "groups", group));
    } else if (doc instanceof GroupDoc group) {
      group.parents().forEach(other -> demandGroup("group " + group.name(), "inside", other));
    } else if (doc instanceof ApplicationDoc application) {
      application(application);
    }
  }

  private void demandGroup(String place, String field, String group) {
    if (contents.record(WorkspaceKind.GROUP, group).isEmpty()) {
      throw new FaultException(place, field, "there is no group \"" + group + "\"");
    }
  }

  private void application(ApplicationDoc application) {
    String place = "application " + application.name();
    if (edition.application(application.name()).isPresent()) {
      throw new FaultException(
          place,
          "name",
          "edition "
              + edition.edition()
              + " of the catalogue has an application of this name; give it another");
    }
    Set<String> known = new HashSet<>();
    edition.applications().forEach(one -> known.add(one.name()));
    contents.applications().forEach(one -> known.add(one.name()));
    Stream.concat(application.ridesOn().stream(), application.needs().stream())
        .filter(name -> !known.contains(name))
        .findFirst()
        .ifPresent(
            name -> {
              throw new FaultException(
                  place, "needs", "the catalogue has no application \"" + name + "\"");
            });
  }

  @Override
  public void loadDirectory(WorkspaceStep.LoadDirectory load) {
    DirectoryFile file =
        load.format().equals("ldif")
            ? DirectoryFile.ldif(load.people())
            : DirectoryFile.csv(load.people(), load.groups(), load.columns());
    if (file.people().isEmpty() && file.groups().isEmpty()) {
      throw new FaultException(
          "directory",
          "people",
          "nobody was found in it"
              + (file.leftOut().isEmpty() ? "" : "; " + String.join("; ", file.leftOut())));
    }
    String mark = load.format().equals("ldif") ? "an LDIF file" : "a CSV file";
    if (load.others().equals("remove")) {
      List.copyOf(contents.people()).forEach(p -> contents.remove(WorkspaceKind.PERSON, p.login()));
      List.copyOf(contents.groups()).forEach(g -> contents.remove(WorkspaceKind.GROUP, g.name()));
    }
    for (GroupDoc group : file.groups()) {
      RecordChecks.demandReadable(group);
      boolean isOnlyNamed = group.parents().isEmpty() && group.note().isEmpty();
      if (!isOnlyNamed || contents.record(WorkspaceKind.GROUP, group.name()).isEmpty()) {
        contents.put(WorkspaceKind.GROUP, group.from(mark));
      }
    }
    for (PersonDoc person : file.people()) {
      RecordChecks.demandReadable(person);
      contents.put(WorkspaceKind.PERSON, person.from(mark));
    }
  }

  @Override
  public void remove(WorkspaceStep.Remove step) {
    WorkspaceKind kind = WorkspaceKind.ofWord(step.kind()).orElseThrow();
    String id = step.id();
    if (contents.record(kind, id).isEmpty()) {
      throw new FaultException(kind.word() + " " + id, "id", "there is none of this name");
    }
    contents.remove(kind, id);
    if (kind == WorkspaceKind.GROUP) {
      contents.regroup(group -> Optional.of(group).filter(name -> !name.equals(id)));
    }
  }

  @Override
  public void rename(WorkspaceStep.Rename step) {
    WorkspaceKind kind = WorkspaceKind.ofWord(step.kind()).orElseThrow();
    Object old =
        contents
            .record(kind, step.id())
            .orElseThrow(
                () ->
                    new FaultException(
                        kind.word() + " " + step.id(), "id", "there is none of this name"));
    Object renamed = renamed(kind, old, step.name());
    if (contents.record(kind, kind.id(renamed)).isPresent()) {
      throw new FaultException(
          kind.word() + " " + step.id(),
          "name",
          "there already is a " + kind.word() + " \"" + step.name() + "\"");
    }
    RecordChecks.demandReadable(renamed);
    contents.remove(kind, step.id());
    contents.put(kind, renamed);
    this.renamed.add(new Renaming.Renamed(kind, step.id(), step.name()));
    inSets(kind, step);
    if (kind == WorkspaceKind.GROUP) {
      contents.regroup(group -> Optional.of(group.equals(step.id()) ? step.name() : group));
    }
  }

  @Override
  public void mergeSets(WorkspaceStep.MergeSets step) {
    SetDoc goes = set(step.id());
    SetDoc stays = set(goes.kind() + ":" + step.into());
    if (goes.id().equals(stays.id())) {
      throw new FaultException("set " + goes.name(), "into", "these are one and the same set");
    }
    String own = "set " + goes.name();
    List<String> values =
        Stream.concat(stays.values().stream(), goes.values().stream())
            .filter(value -> !value.equals(own))
            .distinct()
            .toList();
    contents.put(WorkspaceKind.SET, new SetDoc(stays.kind(), stays.name(), values, stays.note()));
    contents.remove(WorkspaceKind.SET, goes.id());
    renamed.add(new Renaming.Renamed(WorkspaceKind.SET, goes.id(), stays.name()));
    inSets(WorkspaceKind.SET, new WorkspaceStep.Rename("set", goes.id(), stays.name()));
    SetDoc merged = set(stays.id());
    DocumentReader.set(merged);
    if (merged.values().contains("set " + merged.name())) {
      throw new FaultException(
          "set " + stays.name(), "into", "it lies in the set that would be merged into it");
    }
  }

  private SetDoc set(String id) {
    return contents
        .record(WorkspaceKind.SET, id)
        .map(SetDoc.class::cast)
        .orElseThrow(
            () -> new FaultException("set " + id, "id", "there is no shared set of this name"));
  }

  /** What was renamed, in this order; rulebases that use the names are to follow. */
  List<Renaming.Renamed> renamed() {
    return renamed;
  }

  /** Shared sets that hold what is renamed hold it under its new name. */
  private void inSets(WorkspaceKind kind, WorkspaceStep.Rename step) {
    Renaming renaming = new Renaming(List.of(new Renaming.Renamed(kind, step.id(), step.name())));
    for (SetDoc set : List.copyOf(contents.sets())) {
      contents.put(WorkspaceKind.SET, renaming.of(set));
    }
  }

  private static Object renamed(WorkspaceKind kind, Object doc, String name) {
    if (doc instanceof ZoneDoc zone) {
      return new ZoneDoc(name, zone.side(), zone.networks(), zone.note(), zone.position());
    }
    if (doc instanceof GroupDoc group) {
      return new GroupDoc(name, group.parents(), group.note(), group.source());
    }
    if (doc instanceof DeviceKindDoc device) {
      return new DeviceKindDoc(name, device.position());
    }
    if (doc instanceof AddressListDoc list) {
      return new AddressListDoc(name, list.addresses());
    }
    if (doc instanceof SetDoc set) {
      return new SetDoc(set.kind(), name, set.values(), set.note());
    }
    if (doc instanceof PersonDoc person) {
      return new PersonDoc(
          name, person.name(), person.groups(), person.attributes(), person.source());
    }
    throw new FaultException(
        "step RENAME", "kind", "records of the kind " + kind.word() + " keep their names");
  }
}
