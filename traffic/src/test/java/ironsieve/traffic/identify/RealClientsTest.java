package ironsieve.traffic.identify;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.traffic.protocol.Field;
import java.io.IOException;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * What real clients and servers said on loopback during this test, read by us and by a general
 * dissector: the same names, protocols, methods, paths and bytes. Browser, curl, openssl, dig and a
 * client of QUIC speak; nginx and a server of QUIC answer.
 */
class RealClientsTest {

  @TempDir static Path folder;

  private static RealTraffic traffic;
  private static int tlsPort;
  private static int plainPort;
  private static int quicPort;
  private static int dnsPort;

  @BeforeAll
  static void speak() throws IOException, InterruptedException {
    traffic = new RealTraffic(folder);
    tlsPort = traffic.port("tcp tls");
    plainPort = traffic.port("tcp http");
    quicPort = traffic.port("udp quic");
    dnsPort = traffic.port("udp dns");
    traffic.certificate("harbour.example");
    Files.writeString(folder.resolve("nginx.conf"), nginx());
    traffic.start("nginx", "-c", traffic.file("nginx.conf"));
    traffic.start(
        "/usr/sbin/gtlsserver",
        "-q",
        "127.0.0.1",
        String.valueOf(quicPort),
        traffic.file("key.pem"),
        traffic.file("certificate.pem"));
    answerNames();
    RealTraffic.awaitPort(tlsPort);
    traffic.dump();
    talk();
    traffic.stopDumping();
  }

  private static String nginx() {
    return """
        daemon off; worker_processes 1; pid %1$s/nginx.pid; error_log %1$s/nginx.log;
        events {}
        http {
          access_log off; client_body_temp_path %1$s/bodies;
          server {
            listen 127.0.0.1:%2$d ssl http2; listen 127.0.0.1:%3$d;
            ssl_certificate %1$s/certificate.pem; ssl_certificate_key %1$s/key.pem;
            ssl_protocols TLSv1.2 TLSv1.3;
            location / { return 200 "hello\\n"; }
          }
        }
        """
        .formatted(folder, tlsPort, plainPort);
  }

  /** A name server that has one answer for every question. */
  private static void answerNames() throws IOException {
    DatagramSocket socket = new DatagramSocket(dnsPort, InetAddress.getLoopbackAddress());
    Thread thread =
        new Thread(
            () -> {
              byte[] buffer = new byte[1_500];
              java.net.DatagramPacket packet = new java.net.DatagramPacket(buffer, buffer.length);
              try {
                while (true) {
                  socket.receive(packet);
                  byte[] answer = java.util.Arrays.copyOf(buffer, packet.getLength());
                  answer[2] = (byte) 0x81;
                  answer[3] = (byte) 0x80;
                  socket.send(
                      new java.net.DatagramPacket(
                          answer, answer.length, packet.getSocketAddress()));
                }
              } catch (IOException e) {
                // The test is over.
              }
            });
    thread.setDaemon(true);
    thread.start();
  }

  private static void talk() throws IOException, InterruptedException {
    Map<String, String> logging = Map.of("SSLKEYLOGFILE", traffic.file("keys-curl.txt"));
    String[][] asked = {
      {"www.chatterbay.example", "/post/1", "--http2", "-d", "hello"},
      {"bank.harbour.example", "/view/x", "--http1.1"},
      {"films.vuelo.example", "/watch", "--tls-max", "1.2"},
      {
        "films.vuelo.example",
        "/watch/2",
        "--tls-max",
        "1.2",
        "--http1.1",
        "--ciphers",
        "ECDHE-RSA-AES128-SHA256"
      },
      {
        "dropnet.example",
        "/upload",
        "-T",
        "/etc/hostname",
        "--tls13-ciphers",
        "TLS_CHACHA20_POLY1305_SHA256"
      }
    };
    for (String[] one : asked) {
      List<String> command =
          new ArrayList<>(
              List.of("curl", "-sk", "--resolve", one[0] + ":" + tlsPort + ":127.0.0.1"));
      command.addAll(List.of(one).subList(2, one.length));
      command.add("https://" + one[0] + ":" + tlsPort + one[1]);
      RealTraffic.run(logging, command.toArray(new String[0]));
    }
    RealTraffic.run(
        Map.of(),
        "curl",
        "-s",
        "--resolve",
        "maskhop.example:" + plainPort + ":127.0.0.1",
        "http://maskhop.example:" + plainPort + "/a",
        "http://maskhop.example:" + plainPort + "/b?c=1");
    RealTraffic.run(
        Map.of(),
        "openssl",
        "s_client",
        "-connect",
        "127.0.0.1:" + tlsPort,
        "-servername",
        "openssl.example",
        "-alpn",
        "h2,http/1.1",
        "-keylogfile",
        traffic.file("keys-openssl.txt"));
    RealTraffic.run(
        Map.of(),
        "dig",
        "@127.0.0.1",
        "-p",
        String.valueOf(dnsPort),
        "+tries=1",
        "+time=2",
        "login.dunlin.example",
        "AAAA");
    RealTraffic.run(
        Map.of(),
        "timeout",
        "5",
        "gtlsclient",
        "-q",
        "--exit-on-first-stream-close",
        "--sni=quic.lumenreel.example",
        "127.0.0.1",
        String.valueOf(quicPort),
        "https://quic.lumenreel.example/films");
    traffic.browse(
        "https://www.skyreel.example:" + tlsPort + "/watch/it",
        "--disable-quic",
        "--ignore-certificate-errors");
  }

  @AfterAll
  static void stop() {
    traffic.close();
  }

  @Test
  void theNamesThatClientsAskForAreThoseOfTheDissector() throws Exception {
    List<Seen> seen = traffic.read(false);
    TreeSet<String> names =
        RealTraffic.told(
            traffic.dissected(
                "tls.handshake.type == 1", "tcp.srcport", "tls.handshake.extensions_server_name"));
    assertThat(names).hasSizeGreaterThanOrEqualTo(7);
    TreeSet<String> quic =
        RealTraffic.told(
            traffic.dissected(
                "quic && tls.handshake.type == 1",
                "udp.srcport",
                "tls.handshake.extensions_server_name"));
    quic.removeIf(name -> name.startsWith(" "));
    assertThat(quic).hasSize(1);
    TreeSet<String> both = new TreeSet<>(names);
    both.removeIf(name -> name.startsWith(" "));
    both.addAll(quic);
    assertThat(RealTraffic.facts(seen, Field.SERVER_NAME)).isEqualTo(both);
  }

  @Test
  void whatIsOpenedWithKeysIsWhatTheDissectorOpens() throws Exception {
    List<Seen> seen = traffic.read(true);
    TreeSet<String> paths =
        RealTraffic.told(traffic.dissected("http.request", "tcp.srcport", "http.request.uri"));
    paths.addAll(
        RealTraffic.told(
            traffic.dissected("http2.headers.path", "tcp.srcport", "http2.headers.path")));
    assertThat(paths).hasSizeGreaterThanOrEqualTo(7);
    assertThat(RealTraffic.facts(seen, Field.PATH)).isEqualTo(paths);
    TreeSet<String> methods =
        RealTraffic.told(traffic.dissected("http.request", "tcp.srcport", "http.request.method"));
    methods.addAll(
        RealTraffic.told(
            traffic.dissected("http2.headers.method", "tcp.srcport", "http2.headers.method")));
    assertThat(RealTraffic.facts(seen, Field.METHOD)).isEqualTo(methods);
    TreeSet<String> hosts = new TreeSet<>();
    for (String host :
        RealTraffic.told(traffic.dissected("http.request", "tcp.srcport", "http.host"))) {
      hosts.add(host.replaceFirst(":\\d+$", ""));
    }
    for (String host :
        RealTraffic.told(
            traffic.dissected(
                "http2.headers.authority", "tcp.srcport", "http2.headers.authority"))) {
      hosts.add(host.replaceFirst(":\\d+$", ""));
    }
    assertThat(RealTraffic.facts(seen, Field.HOST)).isEqualTo(hosts);
    TreeSet<String> named = new TreeSet<>();
    for (Seen one : seen) {
      for (Seen.Use use : one.uses()) {
        named.add(
            one.host().orElse("")
                + " "
                + use.application().orElse("")
                + use.feature().map(f -> "/" + f).orElse(""));
      }
    }
    assertThat(named)
        .contains(
            "bank.harbour.example Harbour Bank/view",
            "dropnet.example Dropnet/upload",
            "films.vuelo.example Vuelo Video/watch",
            "www.skyreel.example Skyreel/watch",
            "maskhop.example Maskhop");
  }

  @Test
  void alpnAndDnsNamesAreThoseOfTheDissector() throws Exception {
    List<Seen> seen = traffic.read(false);
    TreeSet<String> alpn =
        RealTraffic.told(
            traffic.dissected(
                "tls.handshake.type == 1 && tcp",
                "tcp.srcport",
                "tls.handshake.extensions_alpn_str"));
    TreeSet<String> ours = new TreeSet<>();
    for (Seen one : seen) {
      if (one.ends().service().protocol() == 6) {
        one.shown().facts().stream()
            .filter(fact -> fact.field() == Field.ALPN)
            .forEach(fact -> ours.add(one.ends().clientPort() + " " + fact.text()));
      }
    }
    assertThat(ours).isEqualTo(alpn);
    assertThat(RealTraffic.facts(seen, Field.DNS_NAME))
        .isEqualTo(
            RealTraffic.told(
                traffic.dissected("dns.flags.response == 0", "udp.srcport", "dns.qry.name")))
        .hasSize(1);
  }

  @Test
  void bytesOfEveryConnectionAreThoseOfTheDissector() throws Exception {
    Map<String, long[]> expected = new TreeMap<>();
    for (String[] row :
        traffic.dissected(
            "tcp || udp", "tcp.srcport", "tcp.dstport", "udp.srcport", "udp.dstport", "ip.len")) {
      String from = row[0].isEmpty() ? row[2] : row[0];
      String to = row[1].isEmpty() ? row[3] : row[1];
      boolean isUp = traffic.isServer(Integer.parseInt(to));
      expected
              .computeIfAbsent((isUp ? from + " " + to : to + " " + from), key -> new long[2])[
              isUp ? 0 : 1] +=
          Long.parseLong(row[4]);
    }
    Map<String, String> ours = new TreeMap<>();
    for (Seen one : traffic.read(false)) {
      ours.put(
          one.ends().clientPort() + " " + one.ends().service().detail(),
          one.volume().octetsUp() + " " + one.volume().octetsDown());
    }
    Map<String, String> theirs = new TreeMap<>();
    expected.forEach((key, sums) -> theirs.put(key, sums[0] + " " + sums[1]));
    assertThat(ours).isEqualTo(theirs);
    assertThat(ours).hasSizeGreaterThan(9);
  }
}
