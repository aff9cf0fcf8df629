package ironsieve.model;

import ironsieve.region.Address;
import ironsieve.region.Line;
import ironsieve.region.Range;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.Optional;
import java.util.TreeMap;

/**
 * What is known of addresses and host names from outside the directory and the catalogue.
 *
 * @param countries the addresses of each country, by code; where prefixes of several countries
 *     nest, the most specific one is the country of an address, so they are disjoint afterwards
 * @param lists the addresses of each list that is fed from outside, by name
 * @param hosts the addresses each host name resolves to now
 * @param sites which host names belong to which site category; the longest name that fits decides
 */
public record Atlas(
    Map<String, List<Range<Address>>> countries,
    Map<String, List<Range<Address>>> lists,
    Map<String, List<Address>> hosts,
    List<SiteEntry> sites) {

  /** The site category of every host name in no other. */
  public static final String UNCATEGORISED = "uncategorised";

  /** Nothing known. */
  public static final Atlas EMPTY = new Atlas(Map.of(), Map.of(), Map.of(), List.of());

  /**
   * One entry of the site list: a name, or everything below it, and the category. Where both a name
   * and something above it are listed, the longer one decides.
   */
  public record SiteEntry(Value.HostName names, String category) {}

  public Atlas {
    countries = mostSpecific(countries);
    lists = Map.copyOf(lists);
    hosts = Map.copyOf(hosts);
    sites = List.copyOf(sites);
  }

  private record Claimed(Range<Address> range, String country, BigInteger size) {}

  /**
   * Lays the widest ranges down first and the narrower ones over them; linear in ranges but for the
   * sorting, since what is covered is looked at once.
   */
  private static Map<String, List<Range<Address>>> mostSpecific(
      Map<String, List<Range<Address>>> countries) {
    List<Claimed> widestFirst = new ArrayList<>();
    countries.forEach(
        (country, ranges) ->
            ranges.forEach(
                range ->
                    widestFirst.add(
                        new Claimed(
                            range, country, Line.ADDRESSES.count(range.low(), range.high())))));
    widestFirst.sort(
        Comparator.comparing(Claimed::size).reversed().thenComparing(Claimed::country));
    NavigableMap<Address, Claimed> laid = new TreeMap<>();
    widestFirst.forEach(claimed -> lay(laid, claimed));
    Map<String, List<Range<Address>>> disjoint = new HashMap<>();
    countries.keySet().forEach(country -> disjoint.put(country, new ArrayList<>()));
    laid.values().forEach(piece -> disjoint.get(piece.country()).add(piece.range()));
    disjoint.replaceAll((country, ranges) -> List.copyOf(ranges));
    return Map.copyOf(disjoint);
  }

  private static void lay(NavigableMap<Address, Claimed> laid, Claimed over) {
    Address low = over.range().low();
    Address high = over.range().high();
    Map.Entry<Address, Claimed> first = laid.floorEntry(low);
    List<Claimed> under =
        new ArrayList<>(
            laid.subMap(first == null ? low : first.getKey(), true, high, true).values());
    for (Claimed below : under) {
      Range<Address> range = below.range();
      if (range.high().compareTo(low) < 0) {
        continue;
      }
      laid.remove(range.low());
      if (range.low().compareTo(low) < 0) {
        put(laid, below, range.low(), Line.ADDRESSES.before(low));
      }
      if (range.high().compareTo(high) > 0) {
        put(laid, below, Line.ADDRESSES.after(high), range.high());
      }
    }
    laid.put(low, over);
  }

  private static void put(
      NavigableMap<Address, Claimed> laid, Claimed of, Address low, Address high) {
    laid.put(low, new Claimed(new Range<>(low, high), of.country(), of.size()));
  }

  /** Every site category there is, the one for all other names included. */
  public List<String> siteCategories() {
    return java.util.stream.Stream.concat(
            sites.stream().map(SiteEntry::category), java.util.stream.Stream.of(UNCATEGORISED))
        .distinct()
        .sorted()
        .toList();
  }

  /** The category of a host name. */
  public String category(String host) {
    return sites.stream()
        .filter(entry -> holds(entry.names(), host))
        .max(java.util.Comparator.comparingInt(entry -> specific(entry.names())))
        .map(SiteEntry::category)
        .orElse(UNCATEGORISED);
  }

  private static int specific(Value.HostName names) {
    return 2 * names.name().length() + (names.reach() == Value.HostName.Reach.EXACT ? 3 : 0);
  }

  /** Whether a value means a host name. */
  public static boolean holds(Value.HostName names, String host) {
    return names.reach() == Value.HostName.Reach.EXACT
        ? host.equals(names.name())
        : host.endsWith("." + names.name());
  }

  /**
   * The ranges a network value stands for; for a host name object those it resolves to now. Nothing
   * for a country or list that is not known.
   */
  public Optional<List<Range<Address>>> ranges(Value value) {
    if (value instanceof Value.Network network) {
      return Optional.of(List.of(network.range()));
    }
    if (value instanceof Value.CountryName country) {
      return Optional.ofNullable(countries.get(country.code()));
    }
    if (value instanceof Value.ListName list) {
      return Optional.ofNullable(lists.get(list.name()));
    }
    if (value instanceof Value.HostObject host) {
      return Optional.of(
          hosts.getOrDefault(host.name(), List.of()).stream()
              .map(address -> new Range<>(address, address))
              .toList());
    }
    throw new IllegalArgumentException(value + " is not about addresses");
  }
}
