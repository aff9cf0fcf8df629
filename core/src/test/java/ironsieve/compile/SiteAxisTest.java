package ironsieve.compile;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import ironsieve.model.Atlas;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

/** Atoms of host names against asking each value about each name. */
class SiteAxisTest {

  @Provide
  Arbitrary<String> host() {
    return Arbitraries.of("a", "b", "www", "example", "xwww")
        .list()
        .ofMinSize(1)
        .ofMaxSize(4)
        .map(labels -> String.join(".", labels));
  }

  @Provide
  Arbitrary<List<String>> hosts() {
    return host().list().ofMaxSize(6);
  }

  private static Value.HostName name(String host, int number) {
    return new Value.HostName(
        host, number % 2 == 0 ? Value.HostName.Reach.EXACT : Value.HostName.Reach.BELOW);
  }

  private static Atlas atlas(List<String> listed) {
    List<Atlas.SiteEntry> sites = new ArrayList<>();
    for (String host : new LinkedHashSet<>(listed)) {
      sites.add(new Atlas.SiteEntry(name(host, sites.size()), sites.size() % 3 == 0 ? "x" : "y"));
    }
    return new Atlas(Map.of(), Map.of(), Map.of(), sites);
  }

  @Property(tries = 1500)
  void aNameIsInTheAtomsOfExactlyTheValuesThatHoldIt(
      @ForAll("hosts") List<String> used,
      @ForAll("hosts") List<String> listed,
      @ForAll("host") String asked) {
    Atlas atlas = atlas(listed);
    Set<Value> values = new LinkedHashSet<>();
    for (String host : used) {
      values.add(name(host, values.size()));
    }
    atlas.siteCategories().forEach(category -> values.add(new Value.SiteCategory(category)));
    SiteAxis axis = new SiteAxis(atlas, values);
    int atom = axis.atom(Optional.of(asked));
    for (Value value : values) {
      boolean holds =
          value instanceof Value.HostName names
              ? Atlas.holds(names, asked)
              : atlas.category(asked).equals(((Value.SiteCategory) value).name());
      assertThat(axis.atoms(value).contains(atom)).as("%s %s", value, asked).isEqualTo(holds);
    }
    for (int a = 0; a < axis.weights().count(); a++) {
      assertThat(axis.atom(axis.sample(a))).isEqualTo(a);
    }
  }

  @Property(tries = 300)
  void everyCategoryWeighsOneHoweverItIsCut(
      @ForAll("hosts") List<String> used, @ForAll("hosts") List<String> listed) {
    Atlas atlas = atlas(listed);
    Set<Value> values = new LinkedHashSet<>();
    used.forEach(host -> values.add(name(host, values.size())));
    atlas.siteCategories().forEach(category -> values.add(new Value.SiteCategory(category)));
    SiteAxis axis = new SiteAxis(atlas, values);
    for (String category : atlas.siteCategories()) {
      double weight = axis.atoms(new Value.SiteCategory(category)).weight(axis.weights());
      assertThat(weight).isCloseTo(1, within(1e-9));
    }
  }

  @Test
  void whoNamesNoHostIsApartFromEverybodyElse() {
    Value shop = ValueText.parse(ValueKind.SITE, "shop.example");
    SiteAxis axis = new SiteAxis(Atlas.EMPTY, List.of(shop));
    int nameless = axis.atom(Optional.empty());
    assertThat(axis.atoms(Value.Nameless.HOST).members()).containsExactly(nameless);
    assertThat(axis.atoms(shop).contains(nameless)).isFalse();
    assertThat(axis.sample(nameless)).isEmpty();
  }
}
