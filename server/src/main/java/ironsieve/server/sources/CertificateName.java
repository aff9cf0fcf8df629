package ironsieve.server.sources;

import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.ResultCode;
import com.unboundid.util.ssl.SSLSocketVerifier;
import ironsieve.region.Address;
import java.security.cert.CertificateParsingException;
import java.security.cert.X509Certificate;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import javax.net.ssl.SSLPeerUnverifiedException;
import javax.net.ssl.SSLSocket;

/**
 * Holds a server's certificate against the name it was asked for by (RFC 6125): a DNS name, where
 * {@code *} may stand for its first label, or an address; in the alternative names only. What an
 * address is called by somebody else does not count.
 */
final class CertificateName extends SSLSocketVerifier {

  private static final int DNS_NAME = 2;
  private static final int IP_ADDRESS = 7;

  @Override
  public void verifySSLSocket(String host, int port, SSLSocket socket) throws LDAPException {
    try {
      X509Certificate certificate = (X509Certificate) socket.getSession().getPeerCertificates()[0];
      if (!isFor(host, Optional.ofNullable(certificate.getSubjectAlternativeNames()))) {
        throw new LDAPException(
            ResultCode.CONNECT_ERROR, "the hostname " + host + " is not in the certificate");
      }
    } catch (SSLPeerUnverifiedException | CertificateParsingException e) {
      throw new LDAPException(
          ResultCode.CONNECT_ERROR, "the hostname " + host + " cannot be verified", e);
    }
  }

  static boolean isFor(String host, Optional<Collection<List<?>>> names) {
    Optional<Address> address = address(host);
    for (List<?> name : names.orElse(List.of())) {
      int type = (Integer) name.get(0);
      if (type == IP_ADDRESS
          && address.isPresent()
          && address.equals(address(String.valueOf(name.get(1))))) {
        return true;
      }
      if (type == DNS_NAME && address.isEmpty() && fits(host, String.valueOf(name.get(1)))) {
        return true;
      }
    }
    return false;
  }

  private static boolean fits(String host, String name) {
    String asked = host.toLowerCase(Locale.ROOT);
    String known = name.toLowerCase(Locale.ROOT);
    if (!known.startsWith("*.")) {
      return asked.equals(known);
    }
    int dot = asked.indexOf('.');
    return dot > 0 && asked.substring(dot).equals(known.substring(1));
  }

  private static Optional<Address> address(String text) {
    try {
      return Optional.of(Address.parse(text.replaceAll("^\\[|\\]$", "")));
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    }
  }
}
