package ironsieve.traffic.capture;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HexFormat;
import org.junit.jupiter.api.Test;

class LinkLayerTest {

  private static final String ADDRESSES = "020000000001" + "020000000002";
  private static final String IP = "4500001c00010000401100000a14000a0a140014" + "0035003500080000";

  private static Packet ethernet(String hex) {
    Packet packet = new Packet();
    packet.bytes = HexFormat.of().parseHex(ADDRESSES + hex);
    packet.end = packet.bytes.length;
    packet.wireLength = packet.end;
    packet.linkType = 1;
    return packet;
  }

  /** How many bytes lie before the IP header; -1 where there is none. */
  private static int before(String hex) {
    Packet packet = ethernet(hex);
    return LinkLayer.toNetwork(packet) ? packet.start - ADDRESSES.length() / 2 : -1;
  }

  @Test
  void anIpHeaderIsFoundBelowTagsAndLabels() {
    assertThat(before("0800" + IP)).isEqualTo(2);
    assertThat(before("8100" + "0064" + "0800" + IP)).isEqualTo(6);
    assertThat(before("8847" + "00064140" + IP)).isEqualTo(6);
    assertThat(before("8847" + "00064040" + "000c8140" + IP)).isEqualTo(10);
    assertThat(before("8100" + "0064" + "8848" + "00064140" + IP)).isEqualTo(10);
  }

  @Test
  void whatLabelsCarryThatIsNoIpIsNone() {
    assertThat(before("8847" + "00064140" + "00000000" + ADDRESSES + "0800" + IP)).isEqualTo(-1);
    assertThat(before("8847" + "00064040".repeat(9) + IP)).isEqualTo(-1);
    assertThat(before("8847" + "000640")).isEqualTo(-1);
    assertThat(before("0806" + IP)).isEqualTo(-1);
  }
}
