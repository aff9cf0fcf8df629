package ironsieve.server.sources;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.files.Documents.AddressListDoc;
import ironsieve.files.Documents.CountryDoc;
import ironsieve.files.Documents.GroupDoc;
import ironsieve.files.Documents.PersonDoc;
import ironsieve.files.Documents.SourceDoc;
import ironsieve.files.WorkspaceContents;
import ironsieve.files.WorkspaceKind;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** What becomes of a workspace when it takes what a source has. */
class AdoptionTest {

  private static PersonDoc person(String login, String... groups) {
    return new PersonDoc(login, login, List.of(groups), Map.of());
  }

  private static Adoption ofDirectory(List<PersonDoc> people, List<GroupDoc> groups) {
    return new Adoption(
        "Head office",
        Map.of(WorkspaceKind.PERSON, List.copyOf(people), WorkspaceKind.GROUP, List.copyOf(groups)),
        Map.of());
  }

  @Test
  void peopleCarryTheirSourceAndGoWhenItHasThemNoMore() {
    WorkspaceContents empty = WorkspaceContents.empty();
    WorkspaceContents first =
        ofDirectory(
                List.of(person("ann", "Staff"), person("ben", "Staff")),
                List.of(new GroupDoc("Staff", List.of(), "")))
            .apply(empty);
    assertThat(first.people()).extracting(PersonDoc::source).containsOnly("Head office");
    assertThat(empty.people()).isEmpty();

    first.put(WorkspaceKind.PERSON, person("hand", "Staff"));
    Adoption next = ofDirectory(List.of(person("ben")), List.of());
    assertThat(next.loss(first)).isEqualTo(new Adoption.Loss(2, 1));
    WorkspaceContents second = next.apply(first);
    assertThat(second.people()).extracting(PersonDoc::login).containsExactly("ben", "hand");
    // The group is gone with its source, and so nobody lies in it.
    assertThat(second.groups()).isEmpty();
    assertThat(second.people()).allSatisfy(one -> assertThat(one.groups()).isEmpty());
  }

  @Test
  void whatSomebodyWroteGoesOverToTheSourceThatHasItAndAnotherSourcesStaysThere() {
    WorkspaceContents before = WorkspaceContents.empty();
    before.put(WorkspaceKind.PERSON, person("ann"));
    before.put(WorkspaceKind.PERSON, person("ben").from("Crewing agency"));
    before.put(WorkspaceKind.PERSON, person("cat").from("a CSV file"));
    before.put(
        WorkspaceKind.SOURCE,
        new SourceDoc("Crewing agency", "directory", "", "", 0, "at once", 20, null, "", null));
    before.put(WorkspaceKind.GROUP, new GroupDoc("Staff", List.of(), "written by hand"));
    Adoption adoption =
        ofDirectory(
            List.of(person("ann", "Staff"), person("ben", "Staff"), person("cat")),
            List.of(new GroupDoc("Staff", List.of(), "")));
    WorkspaceContents after = adoption.apply(before);
    assertThat(after.record(WorkspaceKind.PERSON, "ann"))
        .contains(person("ann", "Staff").from("Head office"));
    assertThat(after.record(WorkspaceKind.PERSON, "ben"))
        .contains(person("ben").from("Crewing agency"));
    assertThat(after.record(WorkspaceKind.PERSON, "cat"))
        .contains(person("cat").from("Head office"));
    assertThat(after.record(WorkspaceKind.GROUP, "Staff"))
        .contains(new GroupDoc("Staff", List.of(), "written by hand"));
    assertThat(adoption.left(before))
        .containsExactly("person ben comes from Crewing agency, and is left to it");
    assertThat(adoption.loss(before)).isEqualTo(new Adoption.Loss(0, 0));
  }

  @Test
  void aListLosesAddressesAndACountryAllOfThem() {
    WorkspaceContents before = WorkspaceContents.empty();
    before.put(
        WorkspaceKind.ADDRESS_LIST, new AddressListDoc("Seen", List.of("192.0.2.1", "192.0.2.2")));
    before.put(WorkspaceKind.COUNTRY, new CountryDoc("XA", List.of("198.51.100.0/24")));
    before.put(WorkspaceKind.COUNTRY, new CountryDoc("XB", List.of("203.0.113.0/24")));
    Adoption list =
        new Adoption(
            "Feed",
            Map.of(
                WorkspaceKind.ADDRESS_LIST,
                List.of(new AddressListDoc("Seen", List.of("192.0.2.2", "192.0.2.3")))),
            Map.of(WorkspaceKind.ADDRESS_LIST, Set.of("Seen")));
    assertThat(list.loss(before)).isEqualTo(new Adoption.Loss(2, 1));
    assertThat(list.loss(before).isMoreThan(50)).isFalse();
    assertThat(list.loss(before).isMoreThan(49)).isTrue();
    Adoption geofeed =
        new Adoption(
            "Geofeed",
            Map.of(WorkspaceKind.COUNTRY, List.of(new CountryDoc("XC", List.of("203.0.113.0/24")))),
            Map.of(WorkspaceKind.COUNTRY, Set.of("XB", "XZ")));
    // XA came from elsewhere.
    assertThat(geofeed.apply(before).records(WorkspaceKind.COUNTRY)).containsOnlyKeys("XA", "XC");
    assertThat(geofeed.loss(before)).isEqualTo(new Adoption.Loss(1, 1));
  }
}
