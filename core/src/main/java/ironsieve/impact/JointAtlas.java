package ironsieve.impact;

import ironsieve.model.Atlas;
import ironsieve.model.Environment;
import ironsieve.model.Value;
import ironsieve.region.Address;
import ironsieve.region.Range;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

/**
 * What two surroundings say of addresses and host names, put together: countries, lists and host
 * names that are not the same before and after are told apart by moment, sites by the pair of their
 * categories.
 */
final class JointAtlas {

  private final SurroundingsChange change;
  private final Environment before;
  private final Environment after;
  private final MomentNames names;
  private final Set<MomentPair> categories = new LinkedHashSet<>();
  private final Atlas all;

  JointAtlas(SurroundingsChange change, MomentNames names) {
    this.change = change;
    this.names = names;
    before = change.before();
    after = change.after();
    all = together();
  }

  /** All there is. */
  Atlas all() {
    return all;
  }

  private Atlas together() {
    Map<String, List<Range<Address>>> countries = new TreeMap<>();
    Map<String, List<Range<Address>>> lists = new TreeMap<>();
    Map<String, List<Address>> hosts = new TreeMap<>();
    for (Moment moment : Moment.values()) {
      Atlas atlas = change.at(moment).atlas();
      atlas
          .countries()
          .forEach(
              (code, ranges) -> {
                if (sameCountry(code)) {
                  countries.put(code, ranges);
                } else {
                  lists.put(names.of("country " + code, moment), ranges);
                }
              });
      atlas
          .lists()
          .forEach(
              (name, ranges) -> lists.put(sameList(name) ? name : names.of(name, moment), ranges));
      atlas
          .hosts()
          .forEach(
              (name, addresses) -> {
                if (sameHost(name)) {
                  hosts.put(name, addresses);
                } else {
                  lists.put(
                      names.of("host " + name, moment),
                      addresses.stream().map(address -> new Range<>(address, address)).toList());
                }
              });
    }
    return new Atlas(countries, lists, hosts, sites());
  }

  private boolean sameCountry(String code) {
    return same(before.atlas().countries().get(code), after.atlas().countries().get(code));
  }

  private boolean sameList(String name) {
    return same(before.atlas().lists().get(name), after.atlas().lists().get(name));
  }

  private boolean sameHost(String name) {
    return same(before.atlas().hosts().get(name), after.atlas().hosts().get(name));
  }

  private static <T> boolean same(List<T> one, List<T> other) {
    return one != null && other != null && Set.copyOf(one).equals(Set.copyOf(other));
  }

  /** Every entry of both lists, with the category it has before and after. */
  private List<Atlas.SiteEntry> sites() {
    Set<Value.HostName> all = new LinkedHashSet<>();
    for (Environment one : List.of(before, after)) {
      one.atlas().sites().forEach(entry -> all.add(entry.names()));
    }
    SiteList was = new SiteList(before.atlas());
    SiteList becomes = new SiteList(after.atlas());
    List<Atlas.SiteEntry> entries = new ArrayList<>();
    categories.add(new MomentPair(Atlas.UNCATEGORISED, Atlas.UNCATEGORISED));
    for (Value.HostName name : all) {
      MomentPair pair = new MomentPair(was.category(name), becomes.category(name));
      categories.add(pair);
      entries.add(new Atlas.SiteEntry(name, pair.joint()));
    }
    return entries;
  }

  /** Entries by name; of a name or everything below one it tells the category. */
  private static final class SiteList {
    private final Map<Value.HostName, String> entries = new HashMap<>();

    private SiteList(Atlas atlas) {
      atlas.sites().forEach(entry -> entries.putIfAbsent(entry.names(), entry.category()));
    }

    private String category(Value.HostName names) {
      String found = entries.get(names);
      String name = names.name();
      while (found == null && name.contains(".")) {
        name = name.substring(name.indexOf('.') + 1);
        found = entries.get(new Value.HostName(name, Value.HostName.Reach.BELOW));
      }
      return found == null ? Atlas.UNCATEGORISED : found;
    }
  }

  private List<Value> own(String name, Moment moment) {
    return List.of(names.remembered(new Value.ListName(names.of(name, moment))));
  }

  /** What a country means at a moment. */
  List<Value> meant(Value.CountryName country, Moment moment) {
    return sameCountry(country.code())
        ? List.of(country)
        : own("country " + country.code(), moment);
  }

  /** What a list means at a moment. */
  List<Value> meant(Value.ListName list, Moment moment) {
    return sameList(list.name()) ? List.of(list) : own(list.name(), moment);
  }

  /** By name a host stays what it is; by address it is what it resolves to at a moment. */
  List<Value> meant(Value.HostObject host, Moment moment) {
    if (sameHost(host.name()) || !change.at(moment).atlas().hosts().containsKey(host.name())) {
      return List.of(host);
    }
    List<Value> meant = new ArrayList<>(own("host " + host.name(), moment));
    meant.add(host);
    return meant;
  }

  /** The categories that a name means at a moment. */
  List<Value> meant(Value.SiteCategory category, Moment moment) {
    List<Value> meant =
        categories.stream()
            .filter(pair -> pair.at(moment).equals(category.name()))
            .map(pair -> (Value) new Value.SiteCategory(pair.joint()))
            .toList();
    return meant.isEmpty() ? List.of(new Value.SiteCategory(MomentNames.NOTHING)) : meant;
  }
}
