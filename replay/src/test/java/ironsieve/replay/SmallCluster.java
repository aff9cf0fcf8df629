package ironsieve.replay;

import java.io.File;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.jar.JarEntry;
import java.util.jar.JarOutputStream;
import java.util.stream.Stream;
import org.apache.spark.launcher.JavaModuleOptions;

/**
 * A master and two workers of one processor each, in processes of their own on loopback. They are
 * made of the engine's own jars as it is published, as somebody's cluster is, and not of what the
 * project's build made of them.
 */
final class SmallCluster implements AutoCloseable {

  /** For machines that end before it pays to compile for long. */
  static final String SHORT_LIVED = "-XX:+UseSerialGC -XX:TieredStopAtLevel=1";

  private static final long LONGEST_START_MILLIS = 120_000;

  private final Path folder;
  private final int port = free();
  private final List<Process> workers = new ArrayList<>();
  private final Process master;

  SmallCluster(Path in) throws IOException {
    folder = Files.createDirectory(in.resolve("cluster"));
    Files.createDirectory(events());
    Path jars = Files.createDirectory(folder.resolve("jars"));
    for (String path : published()) {
      Path jar = Path.of(path);
      Files.createSymbolicLink(jars.resolve(jar.getFileName()), jar);
    }
    master =
        start(
            "master",
            "org.apache.spark.deploy.master.Master",
            "--host",
            "127.0.0.1",
            "--port",
            String.valueOf(port),
            "--webui-port",
            "0");
    await(() -> said("master", "New state: ALIVE"));
    for (int i = 0; i < 2; i++) {
      workers.add(
          start(
              "worker" + i,
              "org.apache.spark.deploy.worker.Worker",
              "--host",
              "127.0.0.1",
              "--cores",
              "1",
              "--memory",
              "600m",
              "--webui-port",
              "0",
              "--work-dir",
              folder.resolve("work" + i).toString(),
              url()));
      int number = i;
      await(() -> said("worker" + number, "Successfully registered"));
    }
  }

  private static int free() {
    try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      return socket.getLocalPort();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** The engine's jars as its own description names them. */
  private List<String> published() throws IOException {
    Path to = folder.resolve("published.txt");
    Process asked =
        new ProcessBuilder(
                "mvn",
                "-q",
                "-B",
                "-ntp",
                "-f",
                "src/test/cluster/pom.xml",
                "dependency:build-classpath",
                "-Dmdep.outputFile=" + to)
            .redirectErrorStream(true)
            .redirectOutput(folder.resolve("published.log").toFile())
            .start();
    try {
      if (asked.waitFor() != 0) {
        throw new AssertionError(Files.readString(folder.resolve("published.log")));
      }
    } catch (InterruptedException e) {
      throw new AssertionError(e);
    }
    return Arrays.asList(Files.readString(to).strip().split(File.pathSeparator));
  }

  /**
   * What goes along with a job, as what is built leaves the engine out; classes that lie in no jar
   * while tests run are put into one.
   */
  String jarsToSend() throws IOException {
    List<String> sent = new ArrayList<>();
    for (String path : classPath()) {
      if (Files.isDirectory(Path.of(path))) {
        sent.add(jarOf(Path.of(path), sent.size()).toUri().toString());
      }
    }
    // As the build has laid them out; our own are those of the class path.
    try (Stream<Path> libraries = Files.list(Path.of("target/lib"))) {
      libraries
          .filter(library -> !library.getFileName().toString().startsWith("iron-sieve"))
          .forEach(library -> sent.add(library.toUri().toString()));
    }
    return String.join(",", sent);
  }

  private Path jarOf(Path classes, int number) throws IOException {
    Path jar = folder.resolve("classes-" + number + ".jar");
    try (JarOutputStream out = new JarOutputStream(Files.newOutputStream(jar));
        Stream<Path> all = Files.walk(classes)) {
      for (Path file : all.filter(Files::isRegularFile).toList()) {
        String name = classes.relativize(file).toString().replace(File.separatorChar, '/');
        out.putNextEntry(new JarEntry(name));
        Files.copy(file, out);
        out.closeEntry();
      }
    }
    return jar;
  }

  /** The class path of the tests. */
  static List<String> classPath() {
    // Where the class path is long, it stands in the manifest of a jar and here.
    String path =
        System.getProperty("surefire.test.class.path", System.getProperty("java.class.path"));
    return Arrays.asList(path.split(File.pathSeparator));
  }

  private Process start(String name, String main, String... arguments) throws IOException {
    List<String> command = new ArrayList<>();
    command.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
    command.add("-Xmx256m");
    command.addAll(List.of(SHORT_LIVED.split(" ")));
    command.addAll(List.of(JavaModuleOptions.defaultModuleOptions().split(" ")));
    command.addAll(List.of("-cp", folder.resolve("jars") + "/*", main));
    command.addAll(List.of(arguments));
    ProcessBuilder builder = new ProcessBuilder(command);
    builder.environment().put("SPARK_HOME", folder.toString());
    builder.environment().put("SPARK_LOCAL_IP", "127.0.0.1");
    builder.environment().put("SPARK_SCALA_VERSION", "2.13");
    builder.redirectErrorStream(true).redirectOutput(folder.resolve(name + ".log").toFile());
    return builder.start();
  }

  private boolean said(String name, String what) {
    try {
      return Files.exists(folder.resolve(name + ".log"))
          && Files.readString(folder.resolve(name + ".log")).contains(what);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private interface Condition {
    boolean holds();
  }

  /** Waits for something at the start, for as long as there is a master. */
  private void await(Condition condition) {
    long end = System.currentTimeMillis() + LONGEST_START_MILLIS;
    try {
      while (!condition.holds()) {
        if (System.currentTimeMillis() > end) {
          throw new AssertionError("waited for too long");
        }
        pause();
      }
    } catch (InterruptedException e) {
      throw new AssertionError(e);
    }
  }

  private void pause() throws InterruptedException {
    if (master.waitFor(20, TimeUnit.MILLISECONDS)) {
      throw new AssertionError("the master has ended");
    }
  }

  String url() {
    return "spark://127.0.0.1:" + port;
  }

  /** Where the job writes what happens. */
  Path events() {
    return folder.resolve("events");
  }

  private String happened() {
    try (Stream<Path> files = Files.list(events())) {
      StringBuilder all = new StringBuilder();
      for (Path file : files.filter(Files::isRegularFile).toList()) {
        all.append(Files.readString(file));
      }
      return all.toString();
    } catch (IOException e) {
      return "";
    }
  }

  /**
   * Waits until some tasks have ended and more are to come, on both workers. How long that takes is
   * the job's affair: whoever waits is interrupted once the job has ended.
   */
  void awaitTasks() throws InterruptedException {
    while (executorsAdded().size() < 2 || tasksEnded() < 4) {
      pause();
    }
  }

  private long tasksEnded() {
    return happened().lines().filter(line -> line.contains("SparkListenerTaskEnd")).count();
  }

  List<String> executorsAdded() {
    return happened()
        .lines()
        .filter(line -> line.contains("\"SparkListenerExecutorAdded\""))
        .toList();
  }

  long executorsRemoved() {
    return happened()
        .lines()
        .filter(line -> line.contains("\"SparkListenerExecutorRemoved\""))
        .count();
  }

  /** Kills a worker and what it runs, and waits until it is gone. */
  void killFirstWorker() throws InterruptedException {
    Process first = workers.get(0);
    first.descendants().forEach(ProcessHandle::destroyForcibly);
    first.destroyForcibly().waitFor();
  }

  boolean isFirstWorkerGone() {
    return !workers.get(0).isAlive();
  }

  @Override
  public void close() {
    for (Process worker : workers) {
      worker.descendants().forEach(ProcessHandle::destroyForcibly);
      worker.destroyForcibly();
    }
    master.destroyForcibly();
    // They lead out of the folder, and whoever deletes it would warn of each.
    try (Stream<Path> links = Files.list(folder.resolve("jars"))) {
      for (Path link : links.toList()) {
        Files.delete(link);
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
