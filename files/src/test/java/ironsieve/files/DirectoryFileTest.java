package ironsieve.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.files.Documents.GroupDoc;
import ironsieve.files.Documents.PersonDoc;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class DirectoryFileTest {

  @Test
  void csvIsReadWhateverItsColumnsAreCalled() {
    DirectoryFile file =
        DirectoryFile.csv(
            """
            sAMAccountName,Display Name,Member of,Department,Office
            ann,"Ann Łąka",CN=Clerks\\, all|CN=Staff,Booking,
            ben,Ben,,,Saltmere; quay
            """
                .replace("CN=Clerks\\, all|CN=Staff", "\"CN=Clerks,OU=Groups,DC=x|Staff\""),
            "");
    assertThat(file.people())
        .containsExactly(
            new PersonDoc(
                "ann", "Ann Łąka", List.of("Clerks", "Staff"), Map.of("Department", "Booking")),
            new PersonDoc("ben", "Ben", List.of(), Map.of("Office", "Saltmere, quay")));
    assertThat(file.groups())
        .containsExactly(
            new GroupDoc("Clerks", List.of(), ""), new GroupDoc("Staff", List.of(), ""));
  }

  @Test
  void columnsHoldWhatSomebodySays() {
    String people = "Wer;Kürzel;Team;Telefon\nAnn Łąka;ann;Booking;12\n";
    assertThat(DirectoryFile.look(people, Map.of()))
        .isEqualTo(
            new DirectoryFile.Look(
                List.of("Wer", "Kürzel", "Team", "Telefon"),
                List.of("an attribute", "an attribute", "an attribute", "an attribute"),
                List.of(List.of("Ann Łąka", "ann", "Booking", "12"))));
    Map<String, String> chosen =
        Map.of("Wer", "name", "Kürzel", "login", "Team", "groups", "Telefon", "nothing");
    assertThat(DirectoryFile.look(people, chosen).targets())
        .containsExactly("name", "login", "groups", "nothing");
    assertThat(DirectoryFile.csv(people, "", chosen).people())
        .containsExactly(new PersonDoc("ann", "Ann Łąka", List.of("Booking"), Map.of()));
    // What somebody says goes before what a heading says.
    assertThat(DirectoryFile.csv("login,mail\n7,ann\n", "", Map.of("mail", "login")).people())
        .containsExactly(new PersonDoc("ann", "ann", List.of(), Map.of("login", "7")));
    // Of two columns with one meaning nothing is lost, unless somebody says so of both.
    assertThat(DirectoryFile.csv("login,name,display name\nann,Ann,A. Łąka\n", "").people())
        .containsExactly(new PersonDoc("ann", "Ann", List.of(), Map.of("display name", "A. Łąka")));
    assertThatThrownBy(
            () -> DirectoryFile.csv(people, "", Map.of("Wer", "login", "Kürzel", "login")))
        .hasMessageContaining("another column holds the login already");
    assertThatThrownBy(() -> DirectoryFile.csv(people, "", Map.of("Wer", "wer")))
        .hasMessageContaining("line 2")
        .hasMessageContaining("a column holds one of login, name, groups")
        .hasMessageContaining("not \"wer\"");
  }

  @Test
  void ownFilesAreReadAsTheyAreWritten() {
    CompanyFolder demo = Demo.folder();
    DirectoryFile file =
        DirectoryFile.csv(demo.text("directory/people.csv"), demo.text("directory/groups.csv"));
    assertThat(file.people()).isEqualTo(demo.people());
    assertThat(file.groups()).containsExactlyInAnyOrderElementsOf(demo.groups());
  }

  @Test
  void whatIsWrongInCsvIsToldWithItsLine() {
    assertThatThrownBy(() -> DirectoryFile.csv("mail,phone\na@x.example,1\n", ""))
        .isInstanceOf(FaultException.class)
        .hasMessageContaining("line 2")
        .hasMessageContaining("no column for the login")
        .hasMessageContaining("mail, phone");
    assertThatThrownBy(() -> DirectoryFile.csv("login\nann\nann\n", ""))
        .hasMessageContaining("stands here twice");
  }

  private static final String LDIF =
      """
      version: 1
      # a comment
      dn: cn=Staff,ou=groups,dc=saltmere,dc=example
      objectClass: groupOfNames
      cn: Staff
      description: Everybody on the
        payroll
      member: UID=Ann,OU=people,DC=saltmere,DC=example
      member: cn=Clerks,ou=groups,dc=saltmere,dc=example

      dn: cn=Clerks,ou=groups,dc=saltmere,dc=example
      objectClass: groupOfNames
      cn: Clerks
      member: uid=ben,ou=people,dc=saltmere,dc=example
      member: cn=Staff,ou=groups,dc=saltmere,dc=example

      dn: uid=ann,ou=people,dc=saltmere,dc=example
      objectClass: inetOrgPerson
      uid: ann
      cn:: QW5uIMWBxIVrYQ==
      l: Saltmere
      userPassword: secret

      dn: uid=ben,ou=people,dc=saltmere,dc=example
      objectClass: inetOrgPerson
      uid: ben
      cn: Ben
      memberOf: cn=Night shift,ou=groups,dc=saltmere,dc=example

      dn: ou=people,dc=saltmere,dc=example
      objectClass: organizationalUnit
      ou: people
      """;

  @Test
  void ldifHasPeopleGroupsNestingFoldedLinesAndBase64() {
    DirectoryFile file = DirectoryFile.ldif(LDIF);
    assertThat(file.people())
        .containsExactly(
            new PersonDoc("ann", "Ann Łąka", List.of("Staff"), Map.of("l", "Saltmere")),
            new PersonDoc("ben", "Ben", List.of("Clerks", "Night shift"), Map.of()));
    assertThat(file.groups())
        .containsExactly(
            // Groups that lie in each other are kept as they are; everybody in one is in both.
            new GroupDoc("Staff", List.of("Clerks"), "Everybody on the payroll"),
            new GroupDoc("Clerks", List.of("Staff"), ""),
            new GroupDoc("Night shift", List.of(), ""));
    assertThat(file.leftOut()).hasSize(1).allMatch(one -> one.startsWith("ou=people"));
  }

  @Test
  void ldifThatIsNoneIsToldWithItsLine() {
    assertThatThrownBy(() -> DirectoryFile.ldif("version: 1\n\ndn: uid=a\nobjectClass person\n"))
        .isInstanceOf(FaultException.class)
        .hasMessageContaining("line 2")
        .hasMessageContaining("not LDIF");
    assertThatThrownBy(
            () -> DirectoryFile.ldif(LDIF.substring(0, LDIF.indexOf("objectClass: inet") + 6)))
        .isInstanceOf(FaultException.class);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "Benutzername;Vollst\u00e4ndiger Name;Gruppen\nada;Ada L.;\"Crew;Deck\"\n",
        "identifiant\tnom\tgroupes\nada\tAda L.\tCrew;Deck\n",
        "usuario,nombre,grupos\nada,Ada L.,Crew|Deck\n"
      })
  void peopleAreReadWithOtherSeparatorsAndHeadings(String csv) {
    DirectoryFile file = DirectoryFile.csv(csv, "");
    assertThat(file.people())
        .singleElement()
        .satisfies(
            person -> {
              assertThat(person.login()).isEqualTo("ada");
              assertThat(person.name()).isEqualTo("Ada L.");
              assertThat(person.groups()).containsExactly("Crew", "Deck");
            });
  }
}
