package ironsieve.traffic.protocol;

import java.util.ArrayList;
import java.util.List;

/**
 * What the first messages of a TLS handshake say (RFC 8446, RFC 5246): over TCP and, the same
 * bytes, in the CRYPTO frames of QUIC.
 */
final class Hello {

  static final int CLIENT_HELLO = 1;
  static final int SERVER_HELLO = 2;
  static final int CERTIFICATE = 11;

  static final int TLS_13 = 0x0304;

  private static final int SERVER_NAME = 0;
  private static final int ALPN = 16;
  private static final int ENCRYPT_THEN_MAC = 22;
  private static final int VERSIONS = 43;
  private static final int ENCRYPTED_HELLO = 0xFE0D;
  private static final int MOST_ALPN = 16;

  /** What a server has chosen. */
  record Chosen(byte[] random, int version, int suite, boolean isRetry, boolean isMacLast) {}

  // SHA-256 of "HelloRetryRequest", which a server says in place of a random number.
  private static final byte[] RETRY =
      java.util.HexFormat.of()
          .parseHex("cf21ad74e59a6111be1d8c021e65b891c2a211167abb8c5e079e09e2c8a8339c");

  private Hello() {}

  /**
   * Reads a client's first message.
   *
   * @param body without its type and length
   * @return the client's random number; of no bytes where the message is none
   */
  static byte[] client(ByteView body, ConnectionFacts shown) {
    int version = body.u16();
    byte[] random = body.bytes(32);
    body.skip(body.u8());
    body.skip(body.u16());
    body.skip(body.u8());
    if (body.isBeyond()) {
      return new byte[0];
    }
    ByteView extensions = body.view(body.left() >= 2 ? body.u16() : 0);
    boolean saysVersions = false;
    while (extensions.left() >= 4) {
      int type = extensions.u16();
      ByteView value = extensions.view(extensions.u16());
      switch (type) {
        case SERVER_NAME -> serverName(value, shown);
        case ALPN -> protocols(value, shown);
        case VERSIONS -> {
          saysVersions = true;
          for (int left = value.u8() / 2; left > 0; left--) {
            version(value.u16(), shown);
          }
        }
        case ENCRYPTED_HELLO -> {
          if (value.u8() == 0) {
            shown.nameMayBeHidden();
          }
        }
        default -> {
          // Says nothing about what the client wants.
        }
      }
    }
    if (!saysVersions) {
      version(version, shown);
    }
    return random;
  }

  private static void serverName(ByteView value, ConnectionFacts shown) {
    ByteView list = value.view(value.u16());
    while (list.left() >= 3) {
      int type = list.u8();
      String name = list.latin(list.u16());
      if (type == 0 && !list.isBeyond() && !name.isEmpty()) {
        shown.add(Fact.of(Field.SERVER_NAME, name));
        return;
      }
    }
  }

  private static void protocols(ByteView value, ConnectionFacts shown) {
    ByteView list = value.view(value.u16());
    for (int i = 0; i < MOST_ALPN && list.left() >= 2; i++) {
      String protocol = list.latin(list.u8());
      // Browsers mix in values that mean nothing (RFC 8701).
      if (!list.isBeyond() && !isGrease(protocol)) {
        shown.add(Fact.of(Field.ALPN, protocol));
      }
    }
  }

  private static boolean isGrease(String protocol) {
    return protocol.length() == 2
        && protocol.charAt(0) == protocol.charAt(1)
        && (protocol.charAt(0) & 15) == 10;
  }

  private static void version(int version, ConnectionFacts shown) {
    String word =
        switch (version) {
          case 0x0300 -> "SSL 3.0";
          case 0x0301 -> "1.0";
          case 0x0302 -> "1.1";
          case 0x0303 -> "1.2";
          case 0x0304 -> "1.3";
          default -> "";
        };
    if (!word.isEmpty()) {
      shown.add(Fact.of(Field.TLS_VERSION, word));
    }
  }

  /** Reads a server's first message. */
  static Chosen server(ByteView body, ConnectionFacts shown) {
    int version = body.u16();
    byte[] random = body.bytes(32);
    body.skip(body.u8());
    int suite = body.u16();
    body.u8();
    boolean isMacLast = false;
    ByteView extensions = body.view(body.left() >= 2 ? body.u16() : 0);
    while (extensions.left() >= 4) {
      int type = extensions.u16();
      ByteView value = extensions.view(extensions.u16());
      if (type == VERSIONS) {
        version = value.u16();
      } else if (type == ALPN) {
        protocols(value, shown);
      } else if (type == ENCRYPT_THEN_MAC) {
        isMacLast = true;
      }
    }
    if (version < TLS_13 && !body.isBeyond()) {
      shown.nameIsShown();
    }
    return new Chosen(random, version, suite, java.util.Arrays.equals(random, RETRY), isMacLast);
  }

  /** The names in the first certificate of a server's chain, as it is sent up to TLS 1.2. */
  static void certificate(ByteView body, ConnectionFacts shown) {
    ByteView chain = body.view(body.u24());
    byte[] first = chain.bytes(chain.u24());
    if (chain.isBeyond()) {
      return;
    }
    for (String name : Certificates.names(first)) {
      shown.add(Fact.of(Field.CERTIFICATE, name));
    }
  }

  /** Puts handshake messages together from however they were cut. */
  static final class Messages {
    /** Larger certificates and hellos are not read. */
    private static final int LONGEST = 1 << 16;

    /** Who is given each message. */
    interface Reader {
      void message(int type, ByteView body);
    }

    private final ByteRow waiting = new ByteRow(LONGEST + 4);
    private boolean isGivenUp;

    void add(byte[] bytes, int offset, int length, Reader reader) {
      if (isGivenUp) {
        return;
      }
      if (waiting.add(bytes, offset, length) < length) {
        giveUp();
        return;
      }
      while (waiting.size() >= 4) {
        int size = waiting.u24(1);
        if (size > LONGEST) {
          giveUp();
          return;
        }
        if (waiting.size() < 4 + size) {
          return;
        }
        int type = waiting.u8(0);
        ByteView body = new ByteView(waiting.array(), waiting.start() + 4, size);
        reader.message(type, body);
        waiting.drop(4 + size);
      }
    }

    boolean isGivenUp() {
      return isGivenUp;
    }

    void giveUp() {
      isGivenUp = true;
      waiting.clear();
    }

    int held() {
      return waiting.held();
    }
  }

  /** Names of certificates; here so that what is hostile about them is in one place. */
  static final class Certificates {
    private static final int MOST_NAMES = 32;

    private Certificates() {}

    static List<String> names(byte[] der) {
      List<String> names = new ArrayList<>();
      try {
        java.security.cert.X509Certificate certificate =
            (java.security.cert.X509Certificate)
                java.security.cert.CertificateFactory.getInstance("X.509")
                    .generateCertificate(new java.io.ByteArrayInputStream(der));
        if (certificate.getSubjectAlternativeNames() != null) {
          for (List<?> name : certificate.getSubjectAlternativeNames()) {
            if (name.get(0).equals(2) && names.size() < MOST_NAMES) {
              names.add((String) name.get(1));
            }
          }
        }
        if (names.isEmpty()) {
          names.addAll(commonNames(certificate));
        }
      } catch (java.security.cert.CertificateException | RuntimeException e) {
        // Whatever a stranger sent as a certificate, it names nobody.
        return List.of();
      }
      return names;
    }

    private static List<String> commonNames(java.security.cert.X509Certificate certificate) {
      String subject = certificate.getSubjectX500Principal().getName();
      java.util.regex.Matcher common =
          java.util.regex.Pattern.compile("(?:^|,)CN=([^,\\\\+]+)").matcher(subject);
      return common.find() ? List.of(common.group(1)) : List.of();
    }
  }
}
