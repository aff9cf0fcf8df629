package ironsieve.server.releases;

import io.netty.bootstrap.Bootstrap;
import io.netty.buffer.ByteBuf;
import io.netty.channel.Channel;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInboundHandlerAdapter;
import io.netty.channel.ChannelInitializer;
import io.netty.channel.SimpleChannelInboundHandler;
import io.netty.channel.nio.NioEventLoopGroup;
import io.netty.channel.socket.SocketChannel;
import io.netty.channel.socket.nio.NioSocketChannel;
import io.netty.handler.codec.http.DefaultFullHttpRequest;
import io.netty.handler.codec.http.HttpClientCodec;
import io.netty.handler.codec.http.HttpContent;
import io.netty.handler.codec.http.HttpHeaderNames;
import io.netty.handler.codec.http.HttpMethod;
import io.netty.handler.codec.http.HttpObject;
import io.netty.handler.codec.http.HttpResponse;
import io.netty.handler.codec.http.HttpVersion;
import io.netty.handler.codec.http.LastHttpContent;
import io.netty.handler.proxy.ProxyConnectException;
import io.netty.handler.proxy.ProxyConnectionEvent;
import io.netty.handler.proxy.Socks5ProxyHandler;
import io.netty.handler.ssl.SslContext;
import io.netty.handler.ssl.SslContextBuilder;
import io.netty.handler.ssl.SslHandler;
import io.netty.handler.ssl.SslHandshakeCompletionEvent;
import io.netty.handler.ssl.util.InsecureTrustManagerFactory;
import io.netty.resolver.NoopAddressResolverGroup;
import io.quarkus.runtime.ShutdownEvent;
import ironsieve.files.FaultException;
import ironsieve.server.store.ChangeFeed;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.inject.Inject;
import java.io.ByteArrayOutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.URISyntaxException;
import java.nio.charset.StandardCharsets;
import java.security.cert.X509Certificate;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import javax.net.ssl.SSLException;

/**
 * Opens real connections through a gateway, as one of its clients does, and says what came of them
 * at the client's end and by the gateway's own word. Safe for any number of threads.
 */
@ApplicationScoped
public class Desk {

  /** Whoever hears nothing for so long takes it for silence. */
  private static final int PATIENCE_SECONDS = 6;

  private static final int GREETING_SECONDS = 1;

  /** So long the gateway's own word is waited for, which it gathers for a second. */
  private static final int WORD_MILLIS = 5_000;

  private static final int MOST_SHOWN = 20_000;
  private static final int LONGEST_ADDRESS = 2_000;

  @Inject GatewayStore gateways;
  @Inject GatewayLog log;
  @Inject ChangeFeed feed;

  private final NioEventLoopGroup threads = new NioEventLoopGroup(1);

  void ended(@Observes ShutdownEvent event) {
    threads.shutdownGracefully(0, 1, TimeUnit.SECONDS);
  }

  /**
   * What is opened.
   *
   * @param zone where the client is
   * @param login who it says it is; nothing for nobody
   * @param address such as {@code https://page.example/a} or, for a bare connection, {@code
   *     tcp://page.example:22}
   */
  public record Wish(String zone, Optional<String> login, URI address) {

    /** Reads an address as somebody types it: without a scheme it is a page over TLS. */
    public static URI address(String text) {
      String whole = text.strip();
      if (!whole.contains("://")) {
        whole = "https://" + whole;
      }
      try {
        URI read = new URI(whole);
        boolean isKnown = List.of("http", "https", "tcp").contains(read.getScheme());
        boolean isWhole = read.getHost() != null && read.getRawUserInfo() == null;
        boolean hasPort = isKnown && port(read) > 0 && port(read) <= 65_535;
        if (isWhole && hasPort && whole.length() <= LONGEST_ADDRESS) {
          return read;
        }
      } catch (URISyntaxException e) {
        // Told below, like all that is none.
      }
      throw new FaultException(
          "try",
          "address",
          "\""
              + text
              + "\" is no address such as https://page.example/, http://page.example/ or"
              + " tcp://page.example:22");
    }

    private static int port(URI address) {
      if (address.getPort() >= 0) {
        return address.getPort();
      }
      return switch (address.getScheme()) {
        case "http" -> 80;
        case "https" -> 443;
        default -> 0;
      };
    }
  }

  /** What the client gets. */
  public enum End {
    /** A page, or for a bare connection that it is open. */
    ANSWER,
    /** Told at once that it may not. */
    REFUSAL,
    /** Cut by a reset or an end before the answer was whole. */
    CUT,
    /** Nothing at all. */
    SILENCE,
    /** The gateway lets nobody in, or not this person. */
    NO_ENTRY,
    /** No gateway is there. */
    NO_GATEWAY
  }

  /**
   * What came of it at the client's end.
   *
   * @param status of HTTP; 0 for none
   * @param body the beginning of what was answered; may be empty
   * @param issuer who issued the certificate that was shown; may be empty
   * @param client the port that the client spoke from; 0 if there was no connection
   */
  public record Got(End end, int status, String body, String issuer, int client) {}

  /**
   * What came of it.
   *
   * @param decided nothing if the gateway has not said in time
   */
  public record Result(Got got, Optional<GatewayLog.Decided> decided) {}

  /**
   * Opens a connection, and waits for what comes of it.
   *
   * @throws FaultException if the gateway has no port for the zone
   */
  public Result open(String name, Wish wish) {
    Gateway gateway = gateways.demand(name);
    int port =
        gateway.ports().stream()
            .filter(one -> one.zone().equals(wish.zone()))
            .findFirst()
            .map(Gateway.ZonePort::port)
            .orElseThrow(() -> noPort(gateway, wish.zone()));
    long before = log.last();
    Got got = new Opening(wish, port).result();
    return new Result(got, got.client() == 0 ? Optional.empty() : decided(name, got, before));
  }

  private static FaultException noPort(Gateway gateway, String zone) {
    List<String> zones = gateway.ports().stream().map(Gateway.ZonePort::zone).toList();
    return new FaultException(
        "try",
        "zone",
        zones.isEmpty()
            ? "the gateway " + gateway.name() + " has not said where clients come in"
            : "clients of " + zone + " do not come in there, but those of " + zones);
  }

  private Optional<GatewayLog.Decided> decided(String gateway, Got got, long before) {
    long end = System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(WORD_MILLIS);
    Semaphore news = new Semaphore(0);
    // It is followed before it is looked at, so that nothing is missed in between.
    Runnable enough = feed.follow(what -> news.release());
    try {
      Optional<GatewayLog.Decided> word = log.of(gateway, got.client(), before);
      while (word.isEmpty() && news.tryAcquire(end - System.nanoTime(), TimeUnit.NANOSECONDS)) {
        news.drainPermits();
        word = log.of(gateway, got.client(), before);
      }
      return word;
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      return Optional.empty();
    } finally {
      enough.run();
    }
  }

  /** One connection on its way. */
  private final class Opening {
    private final Wish wish;
    private final int through;
    private final CompletableFuture<Got> end = new CompletableFuture<>();
    private volatile int client;
    private volatile String issuer = "";
    private volatile int status;

    /** The beginning of what was answered. */
    private final ByteArrayOutputStream body = new ByteArrayOutputStream();

    private Opening(Wish wish, int through) {
      this.wish = wish;
      this.through = through;
    }

    private void become(End what) {
      // Its methods are synchronized, so nothing that is just being added is seen by halves.
      end.complete(new Got(what, status, body.toString(StandardCharsets.UTF_8), issuer, client));
    }

    /** Keeps the beginning of what comes; whether that is enough. */
    private boolean add(ByteBuf bytes) {
      byte[] some = new byte[Math.min(bytes.readableBytes(), MOST_SHOWN - body.size())];
      bytes.readBytes(some);
      body.writeBytes(some);
      return body.size() >= MOST_SHOWN;
    }

    private Got result() {
      Channel channel =
          new Bootstrap()
              .group(threads)
              .channel(NioSocketChannel.class)
              .handler(
                  new ChannelInitializer<SocketChannel>() {
                    @Override
                    protected void initChannel(SocketChannel one) throws SSLException {
                      fill(one);
                    }
                  })
              // The name is the gateway's to resolve.
              .resolver(NoopAddressResolverGroup.INSTANCE)
              .connect(
                  InetSocketAddress.createUnresolved(
                      wish.address().getHost(), Wish.port(wish.address())))
              .channel();
      try {
        return end.get(PATIENCE_SECONDS, TimeUnit.SECONDS);
      } catch (TimeoutException e) {
        // What answers slowly answers all the same.
        become(client == 0 ? End.NO_GATEWAY : status == 0 ? End.SILENCE : End.ANSWER);
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        become(End.SILENCE);
      } catch (ExecutionException e) {
        throw new IllegalStateException(e);
      } finally {
        channel.close();
      }
      return end.join();
    }

    private void fill(SocketChannel one) throws SSLException {
      InetSocketAddress gateway = new InetSocketAddress(InetAddress.getLoopbackAddress(), through);
      Socks5ProxyHandler entry =
          wish.login()
              .map(login -> new Socks5ProxyHandler(gateway, login, "any"))
              .orElseGet(() -> new Socks5ProxyHandler(gateway));
      entry.setConnectTimeoutMillis(0);
      one.pipeline().addLast(new Port(), entry);
      if (wish.address().getScheme().equals("https")) {
        // Whose certificate it is, is told; the client at the desk has none of its own to trust.
        SslContext any =
            SslContextBuilder.forClient()
                .trustManager(InsecureTrustManagerFactory.INSTANCE)
                .endpointIdentificationAlgorithm("")
                .build();
        SslHandler tls =
            any.newHandler(one.alloc(), wish.address().getHost(), Wish.port(wish.address()));
        tls.setHandshakeTimeoutMillis(0);
        one.pipeline().addLast("tls", tls);
      }
      if (wish.address().getScheme().equals("tcp")) {
        one.pipeline().addLast(new Bare());
      } else {
        one.pipeline().addLast(new HttpClientCodec(), new Page());
      }
      one.pipeline().addLast(new Ends());
    }

    private void failed(Throwable cause) {
      String text = String.valueOf(cause.getMessage());
      boolean isOfProxy = cause instanceof ProxyConnectException;
      if (client == 0) {
        become(End.NO_GATEWAY);
      } else if (isOfProxy && text.contains("FORBIDDEN")) {
        become(End.REFUSAL);
      } else if (isOfProxy && (text.contains("authStatus") || text.contains("FAILURE"))) {
        become(End.NO_ENTRY);
      } else {
        become(End.CUT);
      }
    }

    /** Notes the port that the client speaks from, once it is connected to the gateway. */
    private final class Port extends ChannelInboundHandlerAdapter {
      @Override
      public void channelActive(ChannelHandlerContext context) {
        client = ((InetSocketAddress) context.channel().localAddress()).getPort();
        context.fireChannelActive();
      }
    }

    /** How it ends where nothing has come before. */
    private final class Ends extends ChannelInboundHandlerAdapter {
      @Override
      public void channelInactive(ChannelHandlerContext context) {
        become(End.CUT);
      }

      @Override
      public void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
        failed(cause);
        context.close();
      }
    }

    /** A connection that only says whether it is open, and how it is greeted. */
    private final class Bare extends SimpleChannelInboundHandler<ByteBuf> {
      @Override
      public void userEventTriggered(ChannelHandlerContext context, Object event) {
        if (event instanceof ProxyConnectionEvent) {
          // Whoever greets does it soon; a connection that says nothing is open all the same.
          context.executor().schedule(() -> become(End.ANSWER), GREETING_SECONDS, TimeUnit.SECONDS);
        }
      }

      @Override
      protected void channelRead0(ChannelHandlerContext context, ByteBuf bytes) {
        add(bytes);
        become(End.ANSWER);
        context.close();
      }
    }

    /** Asks for a page. */
    private final class Page extends SimpleChannelInboundHandler<HttpObject> {
      @Override
      public void userEventTriggered(ChannelHandlerContext context, Object event) throws Exception {
        boolean isTls = wish.address().getScheme().equals("https");
        if (event instanceof SslHandshakeCompletionEvent done) {
          if (done.isSuccess()) {
            SslHandler tls = (SslHandler) context.pipeline().get("tls");
            X509Certificate shown =
                (X509Certificate) tls.engine().getSession().getPeerCertificates()[0];
            issuer = shown.getIssuerX500Principal().getName();
            ask(context);
          }
        } else if (event instanceof ProxyConnectionEvent && !isTls) {
          ask(context);
        }
      }

      private void ask(ChannelHandlerContext context) {
        String path = wish.address().getRawPath();
        String query = wish.address().getRawQuery();
        DefaultFullHttpRequest request =
            new DefaultFullHttpRequest(
                HttpVersion.HTTP_1_1,
                HttpMethod.GET,
                (path == null || path.isEmpty() ? "/" : path) + (query == null ? "" : "?" + query));
        request
            .headers()
            .set(HttpHeaderNames.HOST, wish.address().getRawAuthority())
            .set(HttpHeaderNames.USER_AGENT, "desk")
            .set(HttpHeaderNames.CONNECTION, "close");
        context.writeAndFlush(request);
      }

      @Override
      protected void channelRead0(ChannelHandlerContext context, HttpObject part) {
        if (part instanceof HttpResponse head) {
          status = head.status().code();
        }
        if (part instanceof HttpContent content
            && (add(content.content()) || part instanceof LastHttpContent)) {
          become(End.ANSWER);
          context.close();
        }
      }
    }
  }
}
