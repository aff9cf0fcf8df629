package ironsieve.model;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.region.Address;
import ironsieve.region.Range;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import net.jqwik.api.constraints.Size;
import org.junit.jupiter.api.Test;

class AtlasTest {

  private static Range<Address> range(String text) {
    return ((Value.Network) ValueText.parse(ValueKind.NETWORK, text)).range();
  }

  private static boolean isIn(Atlas atlas, String country, Address address) {
    return atlas.countries().get(country).stream()
        .anyMatch(r -> r.low().compareTo(address) <= 0 && address.compareTo(r.high()) <= 0);
  }

  @Test
  void aPrefixInsideAnotherCountrysIsItsOwn() {
    Atlas atlas =
        new Atlas(
            Map.of(
                "XA", List.of(range("203.0.113.0/24")),
                "XB", List.of(range("203.0.113.64/26"))),
            Map.of(),
            Map.of(),
            List.of());
    assertThat(isIn(atlas, "XA", Address.parse("203.0.113.65"))).isFalse();
    assertThat(isIn(atlas, "XB", Address.parse("203.0.113.65"))).isTrue();
    assertThat(isIn(atlas, "XA", Address.parse("203.0.113.128"))).isTrue();
  }

  /** Prefixes in 10.0.0.0/24, each as its first address and its length beyond 24. */
  @Property(tries = 300)
  void theMostSpecificPrefixIsTheCountry(
      @ForAll @Size(max = 8) List<@IntRange(max = 255) Integer> firsts,
      @ForAll @Size(value = 8) List<@IntRange(max = 8) Integer> lengths) {
    Map<String, List<Range<Address>>> countries = new HashMap<>();
    List<int[]> entries = new ArrayList<>();
    for (int i = 0; i < firsts.size(); i++) {
      int size = 256 >> lengths.get(i);
      int first = firsts.get(i) / size * size;
      int at = first;
      if (entries.stream().noneMatch(e -> e[0] == at && e[1] == size)) {
        entries.add(new int[] {first, size, i % 3});
        countries
            .computeIfAbsent("X" + i % 3, c -> new ArrayList<>())
            .add(range("10.0.0." + first + "-10.0.0." + (first + size - 1)));
      }
    }
    Atlas atlas = new Atlas(countries, Map.of(), Map.of(), List.of());
    for (int address = 0; address < 256; address++) {
      int[] best = null;
      for (int[] entry : entries) {
        boolean holds = entry[0] <= address && address < entry[0] + entry[1];
        if (holds && (best == null || entry[1] < best[1])) {
          best = entry;
        }
      }
      for (String country : countries.keySet()) {
        assertThat(isIn(atlas, country, Address.parse("10.0.0." + address)))
            .isEqualTo(best != null && country.equals("X" + best[2]));
      }
    }
  }
}
