package ironsieve.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.files.Documents.SiteDoc;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Lists of somebody else's: a wrong line is left out and told, and what is no list is refused. */
class AtlasFilesTest {

  private final List<String> leftOut = new ArrayList<>();

  private void tell(FaultException fault) {
    leftOut.add(fault.getMessage());
  }

  @Test
  void aWrongLineOfAFeedIsLeftOutAndTold() {
    String addresses = "203.0.113.1\n203.0.113.2 # two\n203.0.113.\n203.0.113.3\n";
    assertThat(AtlasFiles.addresses("feed", addresses, this::tell))
        .containsExactly("203.0.113.1", "203.0.113.2", "203.0.113.3");
    assertThat(leftOut).hasSize(1);
    assertThat(leftOut.get(0)).startsWith("feed, line 3, column 1");
    leftOut.clear();

    String geofeed =
        "203.0.113.0/25,XA\n203.0.113.128/25,XB\n198.51.100.0/24,nowhere\n192.0.2.0/24,XA\n";
    assertThat(AtlasFiles.geofeed("feed", geofeed, this::tell))
        .isEqualTo(
            Map.of(
                "XA",
                List.of("203.0.113.0/25", "192.0.2.0/24"),
                "XB",
                List.of("203.0.113.128/25")));
    assertThat(leftOut.toString()).contains("line 3", "\"nowhere\" is no country");
    leftOut.clear();

    String sites =
        "names,category\nshop.example,trade\nno site,trade\n*.x.example,news\na.b.example,news\n";
    assertThat(AtlasFiles.sites("feed", sites, this::tell))
        .extracting(SiteDoc::names)
        .containsExactly("shop.example", "*.x.example", "a.b.example");
    assertThat(leftOut.toString()).contains("line 3");
  }

  @Test
  void whatIsMostlyWrongIsNoList() {
    assertThatThrownBy(() -> AtlasFiles.addresses("feed", "203.0.113.1\nand\n", this::tell))
        .hasMessageContaining("line 2");
    assertThatThrownBy(() -> AtlasFiles.geofeed("feed", "a,b\n203.0.113.0/24,XA\n", this::tell))
        .hasMessageContaining("line 1");
    assertThatThrownBy(() -> AtlasFiles.sites("feed", "names,category\n one two,x\n", this::tell))
        .hasMessageContaining("line 2");
  }

  @Test
  void oneOwnFilesMayHaveNothingWrong() {
    assertThatThrownBy(
            () -> AtlasFiles.addresses("mine", "1.2.3.4\n1.2.3.5\n1.2.3.6\n1.2.3.7\nx\n"))
        .hasMessageContaining("mine, line 5");
  }
}
