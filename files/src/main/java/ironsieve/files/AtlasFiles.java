package ironsieve.files;

import ironsieve.files.Documents.SiteDoc;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.region.Address;
import ironsieve.text.HostText;
import ironsieve.text.PlainText;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;

/**
 * What is known of addresses and host names, as files: a geofeed after RFC 8805, address lists as
 * plain lines, host names and site categories as CSV. Every method throws {@link FaultException}
 * naming the file, the line and what would be right.
 */
public final class AtlasFiles {

  private static final int MOST_LETTERS = 200;

  private AtlasFiles() {}

  /** A line of a file that says something. */
  private record Line(String file, int number, String text) {

    private FaultException fault(int column, String message) {
      return new FaultException(file + ", line " + number + ", column " + column, "", message);
    }

    /** A network that stands in it. */
    private String network(String cell, int column) {
      try {
        if (ValueText.parse(ValueKind.NETWORK, cell) instanceof Value.Network) {
          return cell;
        }
        throw fault(column, "\"" + cell + "\" is no network, such as 203.0.113.0/24");
      } catch (IllegalArgumentException e) {
        throw fault(column, e.getMessage());
      }
    }
  }

  /**
   * An address list: a host, prefix or range a line, comments after {@code #}.
   *
   * @param file what to call it in messages
   */
  public static List<String> addresses(String file, String text) {
    return addresses(file, text, REFUSED);
  }

  /**
   * The same for somebody else's list, of which a wrong line is left out.
   *
   * @param leftOut told of each line that is left out, with why
   * @throws FaultException if more than a quarter of them are wrong: then it is no such list
   */
  public static List<String> addresses(String file, String text, Consumer<FaultException> leftOut) {
    List<String> addresses = new ArrayList<>();
    each(file, text, leftOut, line -> addresses.add(line.network(line.text(), 1)));
    return addresses.stream().distinct().toList();
  }

  /** For files of one's own, in which nothing may be wrong. */
  private static final Consumer<FaultException> REFUSED =
      fault -> {
        throw fault;
      };

  private static void each(
      String file, String text, Consumer<FaultException> leftOut, Consumer<Line> take) {
    Wrong wrong = new Wrong(leftOut);
    List<Line> lines = lines(file, text);
    for (Line line : lines) {
      wrong.unless(() -> take.accept(line));
    }
    wrong.demandFew(lines.size());
  }

  /** What is wrong in a file: told as it is found, of which only the first is held. */
  private static final class Wrong {
    private final Consumer<FaultException> told;
    private FaultException first;
    private long count;

    private Wrong(Consumer<FaultException> told) {
      this.told = told;
    }

    private void unless(Runnable take) {
      try {
        take.run();
      } catch (FaultException e) {
        first = first == null ? e : first;
        count++;
        told.accept(e);
      }
    }

    private void demandFew(int lines) {
      if (count * 4 > lines) {
        throw first;
      }
    }
  }

  /**
   * A geofeed: each line a prefix and a country, further columns unread, comments after {@code #}.
   *
   * @param file what to call it in messages
   * @return the prefixes of each country by its code
   */
  public static Map<String, List<String>> geofeed(String file, String text) {
    return geofeed(file, text, REFUSED);
  }

  /** The same for somebody else's, of which a wrong line is left out. */
  public static Map<String, List<String>> geofeed(
      String file, String text, Consumer<FaultException> leftOut) {
    Map<String, List<String>> countries = new LinkedHashMap<>();
    Map<String, String> known = new HashMap<>();
    each(file, text, leftOut, line -> take(line, known, countries));
    return countries;
  }

  private static void take(
      Line line, Map<String, String> known, Map<String, List<String>> countries) {
    String[] cells = line.text().split(",", -1);
    String prefix = line.network(cells[0].trim(), 1);
    String country = cells.length < 2 ? "" : cells[1].trim();
    if (!country.matches("[A-Z]{2}")) {
      throw line.fault(
          cells[0].length() + 2,
          "\""
              + country
              + "\" is no country; a line is a prefix and two capital letters, such as"
              + " 203.0.113.0/24,XA");
    }
    String other = known.putIfAbsent(prefix, country);
    if (other != null && !other.equals(country)) {
      throw line.fault(1, prefix + " stands here twice, as " + other + " and as " + country);
    }
    if (other == null) {
      countries.computeIfAbsent(country, c -> new ArrayList<>()).add(prefix);
    }
  }

  /**
   * Host names and the addresses they resolve to, as CSV with columns {@code host} and {@code
   * addresses}.
   *
   * @param file what to call it in messages
   */
  public static Map<String, List<String>> hosts(String file, String text) {
    Map<String, List<String>> hosts = new LinkedHashMap<>();
    CsvCells.rows(
        file,
        text,
        row -> {
          String host = once(hosts.keySet(), row, "host name", "host");
          List<String> all = list(row.get("addresses"));
          checkHost(row, host, all);
          return hosts.put(host, all);
        });
    return hosts;
  }

  private static void checkHost(CsvCells.Row row, String host, List<String> addresses) {
    try {
      HostText.name(host);
    } catch (IllegalArgumentException e) {
      throw row.fault("host", e.getMessage());
    }
    for (String address : addresses) {
      try {
        Address.parse(address);
      } catch (IllegalArgumentException e) {
        throw row.fault("addresses", e.getMessage());
      }
    }
  }

  /**
   * Site categories, as CSV with columns {@code names} and {@code category}.
   *
   * @param file what to call it in messages
   */
  public static List<SiteDoc> sites(String file, String text) {
    return sites(file, text, REFUSED);
  }

  /** The same for somebody else's, of which a wrong line is left out. */
  public static List<SiteDoc> sites(String file, String text, Consumer<FaultException> leftOut) {
    Set<String> known = new HashSet<>();
    List<SiteDoc> sites = new ArrayList<>();
    Wrong wrong = new Wrong(leftOut);
    int lines =
        CsvCells.rows(
                file,
                text,
                row -> {
                  wrong.unless(() -> sites.add(site(row, known)));
                  return row;
                })
            .size();
    wrong.demandFew(lines);
    return sites;
  }

  private static SiteDoc site(CsvCells.Row row, Set<String> known) {
    String entry = once(known, row, "site", "names");
    known.add(entry);
    if (!isSite(row, entry)) {
      throw row.fault("names", "a site is such as shop.example or *.shop.example");
    }
    PlainText.nameProblem(row.get("category"), MOST_LETTERS)
        .ifPresent(
            problem -> {
              throw row.fault("category", problem);
            });
    return new SiteDoc(entry, row.get("category"));
  }

  private static boolean isSite(CsvCells.Row row, String entry) {
    try {
      return ValueText.parse(ValueKind.SITE, entry) instanceof Value.HostName;
    } catch (IllegalArgumentException e) {
      throw row.fault("names", e.getMessage());
    }
  }

  private static String once(Set<String> taken, CsvCells.Row row, String what, String column) {
    String name = row.get(column);
    PlainText.nameProblem(name, MOST_LETTERS)
        .ifPresent(
            problem -> {
              throw row.fault(column, problem);
            });
    if (taken.contains(name)) {
      throw row.fault(column, "the " + what + " \"" + name + "\" stands here twice");
    }
    return name;
  }

  /**
   * Refuses a web page that came in place of a file, such as one that asks for a login.
   *
   * @param file what to call it in messages
   */
  public static void demandNoPage(String file, String text) {
    String begin = text.stripLeading();
    String first = begin.substring(0, Math.min(15, begin.length())).toLowerCase(Locale.ROOT);
    if (first.startsWith("<!doctype html") || first.startsWith("<html")) {
      throw new FaultException(
          file, "", "a web page came instead; perhaps one that asks to log in");
    }
  }

  private static List<Line> lines(String file, String text) {
    demandNoPage(file, text);
    List<Line> lines = new ArrayList<>();
    int number = 0;
    for (String raw : text.split("\r?\n", -1)) {
      number++;
      int comment = raw.indexOf('#');
      String said = (comment < 0 ? raw : raw.substring(0, comment)).trim();
      if (!said.isEmpty()) {
        lines.add(new Line(file, number, said));
      }
    }
    return lines;
  }

  private static List<String> list(String text) {
    return text.isBlank() ? List.of() : Arrays.stream(text.split(";")).map(String::trim).toList();
  }
}
