package ironsieve.standins;

import ironsieve.region.Address;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.net.BindException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.xbill.DNS.AAAARecord;
import org.xbill.DNS.ARecord;
import org.xbill.DNS.DClass;
import org.xbill.DNS.Flags;
import org.xbill.DNS.Message;
import org.xbill.DNS.Name;
import org.xbill.DNS.Rcode;
import org.xbill.DNS.Record;
import org.xbill.DNS.Section;
import org.xbill.DNS.Type;

/**
 * A name server that knows a few names, over UDP and TCP (RFC 1035). An answer that is too long for
 * UDP is cut short there and asked for again over TCP.
 */
public final class NameStandIn implements AutoCloseable {

  private static final System.Logger LOG = System.getLogger("ironsieve");
  private static final int MOST_OVER_UDP = 512;

  /** Of any ports, so many are tried of which the one for UDP may be taken. */
  private static final int MOST_TRIES = 20;

  private final Map<String, List<Record>> records = new HashMap<>();
  private final DatagramSocket udp;
  private final ServerSocket tcp;

  /** The demo company's names, on loopback. */
  public NameStandIn(int port) throws IOException {
    this(port, new String(DemoFile.read("stand-ins/names.csv"), StandardCharsets.UTF_8));
  }

  /**
   * Starts it on loopback.
   *
   * @param port 0 for any
   * @param names lines of a name, its addresses joined by {@code ;} and how many seconds they hold
   */
  public NameStandIn(int port, String names) throws IOException {
    for (String line : names.lines().skip(1).toList()) {
      String[] cells = line.split(",");
      List<Record> of = new ArrayList<>();
      Name name = Name.fromString(cells[0].trim(), Name.root);
      for (String address : cells[1].split(";")) {
        InetAddress bytes = InetAddress.getByName(Address.parse(address.trim()).toString());
        long seconds = Long.parseLong(cells[2].trim());
        of.add(
            bytes.getAddress().length == 4
                ? new ARecord(name, DClass.IN, seconds, bytes)
                : new AAAARecord(name, DClass.IN, seconds, bytes));
      }
      records.put(name.toString().toLowerCase(Locale.ROOT), of);
    }
    ServerSocket streams = listening(port);
    DatagramSocket datagrams = beside(streams);
    for (int i = 1; datagrams == null && port == 0 && i < MOST_TRIES; i++) {
      streams.close();
      streams = listening(0);
      datagrams = beside(streams);
    }
    if (datagrams == null) {
      streams.close();
      throw new BindException("UDP port " + streams.getLocalPort() + " of loopback is taken");
    }
    tcp = streams;
    udp = datagrams;
    background("names over UDP", this::overUdp);
    background("names over TCP", this::overTcp);
  }

  private static ServerSocket listening(int port) throws IOException {
    return new ServerSocket(port, 50, InetAddress.getLoopbackAddress());
  }

  /** UDP at the same port; null where somebody has it already, for TCP's ports are another's. */
  private static DatagramSocket beside(ServerSocket tcp) throws IOException {
    try {
      return new DatagramSocket(tcp.getLocalPort(), InetAddress.getLoopbackAddress());
    } catch (BindException e) {
      return null;
    }
  }

  public int port() {
    return tcp.getLocalPort();
  }

  private interface Serving {
    void run() throws IOException;
  }

  private static void background(String name, Serving serving) {
    Thread thread =
        new Thread(
            () -> {
              try {
                serving.run();
              } catch (IOException e) {
                LOG.log(System.Logger.Level.DEBUG, "A stand-in has been closed.", e);
              }
            },
            name);
    thread.setDaemon(true);
    thread.start();
  }

  private void overUdp() throws IOException {
    byte[] buffer = new byte[4096];
    while (!udp.isClosed()) {
      DatagramPacket packet = new DatagramPacket(buffer, buffer.length);
      udp.receive(packet);
      try {
        byte[] asked = java.util.Arrays.copyOf(packet.getData(), packet.getLength());
        byte[] answer = answer(new Message(asked)).toWire(MOST_OVER_UDP);
        udp.send(new DatagramPacket(answer, answer.length, packet.getSocketAddress()));
      } catch (IOException | RuntimeException e) {
        LOG.log(System.Logger.Level.DEBUG, "What came was no question.", e);
      }
    }
  }

  private void overTcp() throws IOException {
    while (!tcp.isClosed()) {
      try (Socket socket = tcp.accept()) {
        socket.setSoTimeout(2_000);
        DataInputStream in = new DataInputStream(socket.getInputStream());
        byte[] question = new byte[in.readUnsignedShort()];
        in.readFully(question);
        byte[] answer = answer(new Message(question)).toWire();
        DataOutputStream out = new DataOutputStream(socket.getOutputStream());
        out.writeShort(answer.length);
        out.write(answer);
        out.flush();
      } catch (IOException | RuntimeException e) {
        LOG.log(System.Logger.Level.DEBUG, "What came was no question.", e);
      }
    }
  }

  private Message answer(Message question) {
    Message answer = new Message(question.getHeader().getID());
    answer.getHeader().setFlag(Flags.QR);
    answer.getHeader().setFlag(Flags.AA);
    Record asked = question.getQuestion();
    answer.addRecord(asked, Section.QUESTION);
    List<Record> known = records.get(asked.getName().toString().toLowerCase(Locale.ROOT));
    if (known == null) {
      answer.getHeader().setRcode(Rcode.NXDOMAIN);
    } else {
      known.stream()
          .filter(record -> record.getType() == asked.getType() || asked.getType() == Type.ANY)
          .forEach(record -> answer.addRecord(record, Section.ANSWER));
    }
    return answer;
  }

  @Override
  public void close() throws IOException {
    udp.close();
    tcp.close();
  }
}
