package ironsieve.impact;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.Twin;
import ironsieve.model.Connection;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.region.Address;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import net.jqwik.api.lifecycle.AfterProperty;
import org.junit.jupiter.api.Test;

/**
 * What an impact says in words is exactly its connections, and it is seldom at a loss for words.
 */
class WordsAgreeTest {

  private static final int ENOUGH = 1_000_000;
  private static final AtomicInteger EXACT = new AtomicInteger();
  private static final AtomicInteger ALL = new AtomicInteger();

  @Provide
  Arbitrary<Rulebases.Case> cases() {
    return Rulebases.cases(7);
  }

  @Property(tries = 1500)
  void aConnectionIsMeantByTheWordsExactlyIfItIsOfTheKind(
      @ForAll("cases") Rulebases.Case before, @ForAll int seed) {
    Rulebase after = edited(before.rulebase(), seed);
    Impact impact =
        Comparison.between(before.rulebase(), after, before.world().environment(), ENOUGH);
    Twin twin = new Twin(before.rulebase(), before.world().environment());
    List<SmallWorld.Point> points = before.world().ahead();
    for (Impact.Kind kind : impact.kinds()) {
      ALL.incrementAndGet();
      if (kind.wording() == Impact.Wording.EXAMPLE) {
        assertThat(kind.words().toString()).contains("some, such as");
        continue;
      }
      EXACT.incrementAndGet();
      Reader reader = new Reader(kind, twin);
      for (int p = Math.floorMod(seed, 17); p < points.size(); p += 17) {
        Connection connection = points.get(p).connection();
        int[] at = impact.space().point(connection);
        assertThat(reader.means(connection))
            .as("%s %s", kind.words(), connection)
            .isEqualTo(kind.boxes().stream().anyMatch(box -> box.contains(at)));
      }
      assertThat(reader.means(kind.witness())).as("%s", kind).isTrue();
    }
  }

  /**
   * The rulebase with one rule less, or with its rules turned round, or another default verdict.
   */
  private static Rulebase edited(Rulebase rulebase, int seed) {
    List<Rule> rules = new ArrayList<>(rulebase.rules());
    if (seed % 3 == 0) {
      java.util.Collections.reverse(rules);
    } else if (rules.size() > 1) {
      rules.remove(Math.floorMod(seed, rules.size()));
    }
    return new Rulebase(
        "t",
        List.of(new ironsieve.model.Chapter("c", "", "", rules)),
        rulebase.parts(),
        rulebase.defaultVerdict());
  }

  @AfterProperty
  void atLeastNineOfTenAreSaidExactly() {
    assertThat(ALL.get()).isGreaterThan(100);
    assertThat((double) EXACT.get() / ALL.get())
        .as("%d of %d kinds are said exactly", EXACT.get(), ALL.get())
        .isGreaterThanOrEqualTo(0.9);
  }

  @Test
  void theIpVersionIsSaidWhereOnlyOneIsMeant() {
    Rulebase before = Rulebases.of("deny to.networks=0.0.0.0/0", "allow to.zones=Outside", "allow");
    Rulebase after = Rulebases.of("deny to.networks=0.0.0.0/0", "reject to.zones=Outside", "allow");
    Impact impact = Comparison.between(before, after, SmallWorld.environment(), ENOUGH);
    assertThat(impact.kinds()).hasSize(1);
    assertThat(impact.kinds().get(0).words())
        .extracting(words -> words.part() + " " + words.text())
        .containsExactly("to Outside", "over IPv6");
  }

  /** Reads the words of a kind from their definition, with nothing of what wrote them. */
  private record Reader(Impact.Kind kind, Twin twin) {

    private static final Map<String, FieldName> FIELDS =
        Map.of(
            "person", FieldName.PEOPLE,
            "device", FieldName.DEVICES,
            "site", FieldName.TO_SITES,
            "service", FieldName.SERVICES,
            "application", FieldName.APPLICATIONS,
            "time", FieldName.TIMES);

    boolean means(Connection c) {
      return kind.words().stream().allMatch(words -> phrase(words.part(), words.text(), c));
    }

    private boolean phrase(String part, String text, Connection c) {
      if (part.equals("over")) {
        Address.Version version = c.to().address().version();
        return text.equals(version == Address.Version.V4 ? "IPv4" : "IPv6");
      }
      return text.startsWith("anything but ")
          ? !list(part, text.substring(13), c)
          : list(part, text, c);
    }

    private boolean list(String part, String text, Connection c) {
      String comma = text.contains("; ") || part.equals("device") ? "; " : ", ";
      if (comma.equals(", ") && text.contains(" but not ")) {
        return item(part, text, c);
      }
      return Arrays.stream(text.split(comma)).anyMatch(item -> item(part, item, c));
    }

    private boolean item(String part, String text, Connection c) {
      int but = text.indexOf(" but not ");
      if (but >= 0) {
        return item(part, text.substring(0, but), c) && !list(part, text.substring(but + 9), c);
      }
      if (part.equals("from") || part.equals("to")) {
        return place(part, text, c);
      }
      if (text.equals("any host name")) {
        return c.to().host().isPresent();
      }
      if (part.equals("application")) {
        return use(text, c);
      }
      FieldName field = FIELDS.get(part);
      return twin.holds(field, ValueText.parse(field.kind(), text), c);
    }

    private boolean place(String part, String text, Connection c) {
      Connection.Place place = part.equals("from") ? c.from().place() : c.to().place();
      int behind = text.indexOf(" behind ");
      if (behind >= 0) {
        return place.zone().equals(text.substring(behind + 8))
            && place(part, text.substring(0, behind), c);
      }
      if (text.startsWith("the addresses of ")) {
        Connection.Source there =
            new Connection.Source(place, c.from().person(), c.from().device());
        return twin.holds(
            FieldName.FROM_NETWORKS,
            ValueText.parse(FieldName.FROM_NETWORKS.kind(), text.substring(17)),
            new Connection(c.at(), there, c.to(), c.service(), c.using()));
      }
      FieldName networks = part.equals("from") ? FieldName.FROM_NETWORKS : FieldName.TO_NETWORKS;
      return place.zone().equals(text)
          || (text.matches(".*[.:].*|(host|country|list|set) .*")
              && twin.holds(networks, ValueText.parse(networks.kind(), text), c));
    }

    private boolean use(String text, Connection c) {
      int over = text.indexOf(" over ");
      if (over >= 0) {
        return c.using().carrier().equals(Optional.of(text.substring(over + 6)))
            && use(text.substring(0, over), c);
      }
      String bare = " without a feature";
      return text.endsWith(bare)
          ? c.using().feature().isEmpty() && use(text.replace(bare, ""), c)
          : twin.holds(
              FieldName.APPLICATIONS, ValueText.parse(FieldName.APPLICATIONS.kind(), text), c);
    }
  }
}
