package ironsieve.files;

import com.unboundid.ldap.sdk.DN;
import com.unboundid.ldap.sdk.Entry;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldif.LDIFException;
import com.unboundid.ldif.LDIFReader;
import ironsieve.files.Documents.GroupDoc;
import ironsieve.files.Documents.PersonDoc;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * People and groups that came as a file: CSV with whatever columns somebody's list has, or LDIF
 * (RFC 2849).
 *
 * @param people with the groups they are in directly; each login once
 * @param groups every group that somebody or another group lies in is among them
 * @param leftOut what was not taken, in a few words each
 */
public record DirectoryFile(List<PersonDoc> people, List<GroupDoc> groups, List<String> leftOut) {

  /** What a column of somebody's list of people can hold, under whatever heading. */
  public enum Target {
    LOGIN("login"),
    NAME("name"),
    GROUPS("groups"),
    ATTRIBUTE("an attribute"),
    ATTRIBUTES("attributes with their names"),
    NOTHING("nothing");

    private final String word;

    Target(String word) {
      this.word = word;
    }

    /** What it is called. */
    public String word() {
      return word;
    }

    /**
     * What each column holds, as somebody said, else by its heading. Of two with one meaning the
     * first has it, and the other is an attribute, so that nothing of it is lost.
     */
    private static Map<String, Target> of(CsvCells.Row row, Map<String, String> chosen) {
      Map<String, Target> targets = new LinkedHashMap<>();
      chosen.forEach(
          (column, word) -> {
            if (row.columns().contains(column)) {
              Target target = ofWord(row, column, word);
              if (target.isOne() && targets.containsValue(target)) {
                throw row.fault(column, "another column holds the " + word + " already");
              }
              targets.put(column, target);
            }
          });
      for (String column : row.columns()) {
        if (!targets.containsKey(column)) {
          Target usual = usual(row, column);
          targets.put(column, usual.isOne() && targets.containsValue(usual) ? ATTRIBUTE : usual);
        }
      }
      return targets;
    }

    /** Whether only one column of a list can hold it. */
    private boolean isOne() {
      return this == LOGIN || this == NAME || this == GROUPS;
    }

    private static Target ofWord(CsvCells.Row row, String column, String word) {
      return Arrays.stream(values())
          .filter(target -> target.word.equals(word))
          .findFirst()
          .orElseThrow(
              () ->
                  row.fault(
                      column,
                      "a column holds one of "
                          + Arrays.stream(values())
                              .map(Target::word)
                              .collect(Collectors.joining(", "))
                          + ", not \""
                          + word
                          + "\""));
    }

    private static Target usual(CsvCells.Row row, String column) {
      String plain = DirectoryFile.word(column);
      if (plain.equals("attributes")) {
        return ATTRIBUTES;
      }
      if (isOwn(row, column)) {
        return NOTHING;
      }
      return DirectoryFile.LOGIN.contains(plain)
          ? LOGIN
          : DirectoryFile.NAME.contains(plain)
              ? NAME
              : DirectoryFile.GROUPS.contains(plain) ? GROUPS : ATTRIBUTE;
    }
  }

  /**
   * A list of people before it is taken.
   *
   * @param columns the headings
   * @param targets the word of what each column is taken to hold
   * @param lines the first lines, by column
   */
  public record Look(List<String> columns, List<String> targets, List<List<String>> lines) {}

  private static final int FIRST_LINES = 5;

  private static final Set<String> LOGIN =
      Set.of(
          "login",
          "uid",
          "user",
          "username",
          "userid",
          "account",
          "accountname",
          "samaccountname",
          "anmeldename",
          "benutzername",
          "benutzer",
          "kennung",
          "konto",
          "identifiant",
          "utilisateur",
          "usuario",
          "cuenta",
          "uzytkownik",
          "konta");
  private static final Set<String> NAME =
      Set.of(
          "name",
          "cn",
          "displayname",
          "fullname",
          "person",
          "vollstandigername",
          "anzeigename",
          "nom",
          "nomcomplet",
          "nombre",
          "nombrecompleto",
          "nazwa",
          "imieinazwisko");
  private static final Set<String> GROUPS =
      Set.of(
          "groups",
          "group",
          "memberof",
          "teams",
          "roles",
          "gruppen",
          "gruppe",
          "rollen",
          "groupes",
          "groupe",
          "grupos",
          "grupo",
          "grupy",
          "grupa");
  private static final Set<String> INSIDE = Set.of("inside", "parents", "parent", "memberof");
  private static final Set<String> NOTE = Set.of("note", "description", "comment");
  private static final Pattern COMMON_NAME = Pattern.compile("(?i)^cn=((?:\\\\.|[^,\\\\])+),.*$");
  private static final Set<String> PERSON_CLASSES =
      Set.of("person", "inetorgperson", "organizationalperson", "user", "posixaccount", "account");
  private static final Set<String> GROUP_CLASSES =
      Set.of("groupofnames", "groupofuniquenames", "group", "posixgroup");

  /** What LDIF says of a person that rules may ask for. */
  private static final List<String> ATTRIBUTES =
      List.of(
          "title",
          "department",
          "departmentNumber",
          "l",
          "employeeType",
          "company",
          "ou",
          "o",
          "businessCategory");

  private static final Mapping USUAL =
      new Mapping(
          List.of("uid", "sAMAccountName", "userPrincipalName"),
          List.of("displayName", "cn"),
          ATTRIBUTES.stream().collect(Collectors.toMap(name -> name, name -> name)));

  private static final String SOURCE = "source";
  private static final int MOST_LEFT_OUT = 100;

  public DirectoryFile {
    people = List.copyOf(people);
    groups = List.copyOf(groups);
    leftOut = List.copyOf(leftOut);
  }

  /**
   * What a list of people looks like.
   *
   * @param chosen what somebody said a column holds, by its heading
   * @throws FaultException if it is no table, or a column cannot hold what somebody said
   */
  public static Look look(String people, Map<String, String> chosen) {
    List<List<String>> lines = new ArrayList<>();
    List<String> columns = new ArrayList<>();
    List<String> targets = new ArrayList<>();
    CsvCells.separatedRows(
        "people",
        people,
        row -> {
          if (columns.isEmpty()) {
            columns.addAll(row.columns());
            Map<String, Target> held = Target.of(row, chosen);
            columns.forEach(column -> targets.add(held.get(column).word));
          }
          if (lines.size() < FIRST_LINES) {
            lines.add(columns.stream().map(row::get).toList());
          }
          return row;
        });
    return new Look(columns, targets, lines);
  }

  /** People from CSV whose columns have usual headings. */
  public static DirectoryFile csv(String people, String groups) {
    return csv(people, groups, Map.of());
  }

  /**
   * People from CSV: a column for the login, one for the name, one for groups joined by {@code ;}
   * or {@code |}, each under any usual name; every other column is an attribute of its name.
   *
   * @param groups the groups, as CSV too; empty where only people are known
   * @param chosen the {@link Target#word()} of what a column holds, by its heading; the others are
   *     taken by their heading
   * @throws FaultException naming line and column
   */
  public static DirectoryFile csv(String people, String groups, Map<String, String> chosen) {
    Map<String, PersonDoc> all = new LinkedHashMap<>();
    Map<String, Target> targets = new LinkedHashMap<>();
    for (PersonDoc person :
        people.isBlank()
            ? List.<PersonDoc>of()
            : CsvCells.separatedRows(
                "people",
                people,
                row -> {
                  if (targets.isEmpty()) {
                    targets.putAll(Target.of(row, chosen));
                  }
                  return person(row, targets);
                })) {
      if (all.put(person.login(), person) != null) {
        throw new FaultException(
            "people", "login", "the login \"" + person.login() + "\" stands here twice");
      }
    }
    List<GroupDoc> known =
        groups.isBlank()
            ? List.of()
            : CsvCells.separatedRows("groups", groups, DirectoryFile::group);
    return with(List.copyOf(all.values()), known, List.of());
  }

  private static PersonDoc person(CsvCells.Row row, Map<String, Target> targets) {
    Map<Target, String> first = new EnumMap<>(Target.class);
    Map<String, String> attributes = new TreeMap<>();
    for (String column : row.columns()) {
      Target target = targets.get(column);
      String value = row.get(column).trim();
      if (target == Target.ATTRIBUTES) {
        pairs(row, value, attributes);
      } else if (target == Target.ATTRIBUTE && !value.isEmpty()) {
        attributes.put(column.trim(), value.replaceAll("[;|]", ","));
      }
      first.putIfAbsent(target, value);
    }
    if (!first.containsKey(Target.LOGIN)) {
      throw noColumn(row, "login", LOGIN);
    }
    String login = first.get(Target.LOGIN);
    if (login.isEmpty()) {
      throw row.fault("login", "the login is missing");
    }
    return new PersonDoc(
        login,
        first.getOrDefault(Target.NAME, login),
        names(first.getOrDefault(Target.GROUPS, "")),
        attributes,
        source(row));
  }

  /**
   * Whether a column is the one in which files of this application say where somebody came from.
   */
  private static boolean isOwn(CsvCells.Row row, String column) {
    return column.equals(SOURCE)
        && (row.columns().contains("attributes") || row.columns().contains("inside"));
  }

  private static String source(CsvCells.Row row) {
    return row.columns().contains(SOURCE) && isOwn(row, SOURCE) ? row.get(SOURCE) : "";
  }

  private static void pairs(CsvCells.Row row, String value, Map<String, String> attributes) {
    for (String pair : names(value)) {
      String[] parts = pair.split("=", 2);
      if (parts.length < 2 || parts[0].isBlank() || parts[1].isBlank()) {
        throw row.fault(
            "attributes", "\"" + pair + "\" is no attribute, such as home port=Saltmere");
      }
      attributes.put(parts[0].trim(), parts[1].trim());
    }
  }

  private static GroupDoc group(CsvCells.Row row) {
    String name =
        cell(row, union(NAME, GROUPS)).orElseThrow(() -> noColumn(row, "name", NAME)).trim();
    return new GroupDoc(
        name,
        names(cell(row, INSIDE).orElse("")),
        cell(row, NOTE).map(String::trim).orElse(""),
        source(row));
  }

  private static Set<String> union(Set<String> one, Set<String> other) {
    Set<String> both = new LinkedHashSet<>(one);
    both.addAll(other);
    return both;
  }

  private static FaultException noColumn(CsvCells.Row row, String what, Set<String> words) {
    return row.fault(
        what,
        "there is no column for the "
            + what
            + "; it is called "
            + String.join(", ", words.stream().sorted().toList())
            + ", and there are "
            + String.join(", ", row.columns()));
  }

  private static Optional<String> cell(CsvCells.Row row, Set<String> words) {
    return row.columns().stream()
        .filter(column -> words.contains(word(column)))
        .findFirst()
        .map(row::get);
  }

  private static String word(String column) {
    return OnOffWords.plain(column).replaceAll("[^a-z]", "");
  }

  /** Names in one cell; of a distinguished name the common name is meant. */
  private static List<String> names(String cell) {
    return Arrays.stream(cell.split("[;|]"))
        .map(String::trim)
        .filter(name -> !name.isEmpty())
        .map(DirectoryFile::commonName)
        .distinct()
        .toList();
  }

  private static String commonName(String name) {
    Matcher matcher = COMMON_NAME.matcher(name);
    return matcher.matches() ? matcher.group(1).replaceAll("\\\\(.)", "$1") : name;
  }

  /** Every group that is named and that nobody described is one too. */
  private static DirectoryFile with(
      List<PersonDoc> people, List<GroupDoc> groups, List<String> leftOut) {
    Map<String, GroupDoc> all = new LinkedHashMap<>();
    for (GroupDoc group : groups) {
      if (all.put(group.name(), group) != null) {
        throw new FaultException(
            "groups", "name", "the group \"" + group.name() + "\" stands here twice");
      }
    }
    Stream.concat(
            people.stream().flatMap(person -> person.groups().stream()),
            groups.stream().flatMap(group -> group.parents().stream()))
        .forEach(name -> all.putIfAbsent(name, new GroupDoc(name, List.of(), "")));
    return new DirectoryFile(people, List.copyOf(all.values()), leftOut);
  }

  /**
   * People and groups from LDIF. Who is in which group is said by the groups' members, or by what a
   * person says they are a member of.
   *
   * @throws FaultException naming the line
   */
  public static DirectoryFile ldif(String text) {
    List<Entry> entries = new ArrayList<>();
    try (LDIFReader reader =
        new LDIFReader(new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)))) {
      for (Entry entry = reader.readEntry(); entry != null; entry = reader.readEntry()) {
        entries.add(entry);
      }
    } catch (LDIFException e) {
      throw new FaultException(
          "directory, line " + e.getLineNumber(), "", "this is not LDIF: " + e.getMessage());
    } catch (IOException e) {
      throw new FaultException("directory", "", "this cannot be read: " + e.getMessage());
    }
    return of(entries);
  }

  /**
   * How the entries of a directory say who is who.
   *
   * @param logins the attributes that may have the login, the first that is there counts
   * @param names the attributes that may have the name
   * @param attributes for each attribute that rules may ask for, where it stands
   */
  public record Mapping(List<String> logins, List<String> names, Map<String, String> attributes) {

    public Mapping {
      logins = List.copyOf(logins);
      names = List.copyOf(names);
      attributes = new TreeMap<>(attributes);
    }
  }

  /**
   * People and groups from entries that are known to be either.
   *
   * @param people entries of people, in the order they are to be told in
   */
  public static DirectoryFile of(List<Entry> people, List<Entry> groups, Mapping mapping) {
    List<String> leftOut = new ArrayList<>();
    Map<String, Entry> named = new LinkedHashMap<>();
    for (Entry entry : people) {
      if (login(entry, mapping).isPresent()) {
        named.put(normalized(entry.getDN()), entry);
      } else if (leftOut.size() < MOST_LEFT_OUT) {
        leftOut.add(
            entry.getDN()
                + " has no login without spaces in "
                + String.join(", ", mapping.logins()));
      }
    }
    Map<String, Entry> grouped = new LinkedHashMap<>();
    groups.forEach(entry -> grouped.put(normalized(entry.getDN()), entry));
    return of(named, grouped, leftOut, mapping);
  }

  /** People and groups from the entries of a directory, however they came. */
  public static DirectoryFile of(List<Entry> entries) {
    Map<String, Entry> people = new LinkedHashMap<>();
    Map<String, Entry> groups = new LinkedHashMap<>();
    List<String> leftOut = new ArrayList<>();
    for (Entry entry : entries) {
      String dn = normalized(entry.getDN());
      if (is(entry, GROUP_CLASSES)) {
        groups.put(dn, entry);
      } else if (is(entry, PERSON_CLASSES) && login(entry, USUAL).isPresent()) {
        people.put(dn, entry);
      } else if (leftOut.size() < MOST_LEFT_OUT) {
        leftOut.add(entry.getDN() + " is neither a person with a login nor a group");
      }
    }
    return of(people, groups, leftOut, USUAL);
  }

  private static DirectoryFile of(
      Map<String, Entry> people, Map<String, Entry> groups, List<String> leftOut, Mapping mapping) {
    Map<String, Set<String>> groupsOf = new HashMap<>();
    Map<String, Set<String>> parentsOf = new HashMap<>();
    Map<String, String> names = new HashMap<>();
    groups.forEach((dn, entry) -> names.put(dn, groupName(entry)));
    groups.forEach(
        (dn, entry) -> {
          for (String member : members(entry)) {
            Map<String, Set<String>> into = groups.containsKey(member) ? parentsOf : groupsOf;
            into.computeIfAbsent(member, key -> new LinkedHashSet<>()).add(names.get(dn));
          }
        });
    Map<String, PersonDoc> read = new LinkedHashMap<>();
    people.forEach(
        (dn, entry) -> {
          String login = login(entry, mapping).orElseThrow();
          Set<String> own = new LinkedHashSet<>(groupsOf.getOrDefault(dn, Set.of()));
          own.addAll(groupsOf.getOrDefault(login, Set.of()));
          own.addAll(memberOf(entry, names));
          PersonDoc person =
              new PersonDoc(
                  login, name(entry, mapping), List.copyOf(own), attributes(entry, mapping));
          if (read.putIfAbsent(login, person) != null) {
            leftOut.add(entry.getDN() + " has the login \"" + login + "\" of somebody above");
          }
        });
    Map<String, GroupDoc> made = new LinkedHashMap<>();
    groups.forEach(
        (dn, entry) -> {
          Set<String> parents = new LinkedHashSet<>(parentsOf.getOrDefault(dn, Set.of()));
          parents.addAll(memberOf(entry, names));
          String name = names.get(dn);
          GroupDoc group =
              new GroupDoc(
                  name, List.copyOf(parents), orEmpty(entry.getAttributeValue("description")));
          if (made.putIfAbsent(name, group) != null) {
            leftOut.add(entry.getDN() + " has the name of another group");
          }
        });
    return with(List.copyOf(read.values()), List.copyOf(made.values()), leftOut);
  }

  private static String orEmpty(String text) {
    return text == null ? "" : text;
  }

  private static boolean is(Entry entry, Set<String> classes) {
    String[] own = entry.getObjectClassValues();
    return own != null
        && Arrays.stream(own).anyMatch(one -> classes.contains(one.toLowerCase(Locale.ROOT)));
  }

  private static Optional<String> login(Entry entry, Mapping mapping) {
    return mapping.logins().stream()
        .map(entry::getAttributeValue)
        .filter(value -> value != null && !value.isBlank())
        .map(value -> value.replaceAll("@.*", "").trim())
        .filter(value -> value.equals(value.replaceAll("[\\s,;]", "")))
        .findFirst();
  }

  private static String name(Entry entry, Mapping mapping) {
    return mapping.names().stream()
        .map(entry::getAttributeValue)
        .filter(value -> value != null && !value.isBlank())
        .findFirst()
        .orElse("")
        .trim();
  }

  private static String groupName(Entry entry) {
    String name = entry.getAttributeValue("cn");
    return name == null || name.isBlank() ? commonName(entry.getDN()) : name.trim();
  }

  /** The members of a group: distinguished names as they are compared, or logins. */
  private static List<String> members(Entry entry) {
    List<String> members = new ArrayList<>();
    for (String attribute : List.of("member", "uniqueMember")) {
      for (String value : values(entry, attribute)) {
        members.add(normalized(value));
      }
    }
    members.addAll(values(entry, "memberUid"));
    return members;
  }

  /** What an entry says it is a member of, by the names of those groups. */
  private static List<String> memberOf(Entry entry, Map<String, String> names) {
    return values(entry, "memberOf").stream()
        .map(group -> names.getOrDefault(normalized(group), commonName(group)))
        .toList();
  }

  private static List<String> values(Entry entry, String attribute) {
    String[] values = entry.getAttributeValues(attribute);
    return values == null ? List.of() : List.of(values);
  }

  private static String normalized(String dn) {
    try {
      return DN.normalize(dn);
    } catch (LDAPException e) {
      return dn;
    }
  }

  private static Map<String, String> attributes(Entry entry, Mapping mapping) {
    Map<String, String> attributes = new TreeMap<>();
    mapping
        .attributes()
        .forEach(
            (name, where) -> {
              String value = entry.getAttributeValue(where);
              if (value != null && !value.isBlank()) {
                // A semicolon would part it in two wherever attributes are listed.
                attributes.put(name, value.trim().replaceAll("[;|]", ","));
              }
            });
    return attributes;
  }
}
