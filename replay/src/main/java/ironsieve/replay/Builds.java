package ironsieve.replay;

import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.apache.spark.api.java.JavaSparkContext;
import org.apache.spark.sql.SparkSession;

/**
 * Compares the engine here with the one of a cluster, before anything of a company is sent: objects
 * of another build cannot be read there, and what comes of them is a stack trace of minutes.
 */
final class Builds {

  private Builds() {}

  /**
   * Demands that a cluster runs the release that runs here.
   *
   * @throws IllegalArgumentException saying which release it runs, and which it should
   */
  static void demandSame(SparkSession spark) throws Exception {
    if (spark.sparkContext().isLocal()) {
      return;
    }
    String here = here();
    TreeSet<String> there = new TreeSet<>();
    try {
      there.addAll(
          JavaSparkContext.fromSparkContext(spark.sparkContext())
              .parallelize(List.of(1), 1)
              .map(one -> here())
              .collect());
    } catch (Exception e) {
      // Even a number could not be sent; or the cluster is away, which says so itself.
      throw isOfAnotherBuild(e) ? other("another build of the engine", here) : e;
    }
    demandSame(there, here);
  }

  /**
   * Demands that all the releases a cluster's parts say they are of are the one that is here.
   *
   * @throws IllegalArgumentException saying which release runs there, and which it should
   */
  static void demandSame(Set<String> there, String here) {
    if (!there.equals(Set.of(here))) {
      throw other(String.join(" and ", new TreeSet<>(there)), here);
    }
  }

  private static IllegalArgumentException other(String there, String here) {
    return new IllegalArgumentException(
        "the cluster runs "
            + there
            + ", and this replay is made for "
            + here
            + "; nothing was sent. Give the cluster the engine's own jars of that release");
  }

  private static String here() {
    return "release "
        + org.apache.spark.package$.MODULE$.SPARK_VERSION()
        + " with Scala "
        + scala.util.Properties.versionNumberString();
  }

  /** Whether a class that was sent is another one where it arrived. */
  static boolean isOfAnotherBuild(Throwable thrown) {
    for (Throwable one = thrown; one != null; one = one.getCause()) {
      String said = String.valueOf(one);
      if (said.contains("InvalidClassException")
          || said.contains("serialVersionUID")
          || said.contains("NoSuchMethodError")
          || said.contains("NoClassDefFoundError")) {
        return true;
      }
    }
    return false;
  }
}
