package ironsieve.cli;

import ironsieve.traffic.signature.Clashes;
import ironsieve.traffic.signature.SignatureBook;
import java.io.PrintWriter;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Spec;

/** The signatures of the catalogue. */
@Command(
    name = "signatures",
    description = "How the catalogue's applications are recognised.",
    mixinStandardHelpOptions = true)
final class SignaturesCommand {

  @Spec private CommandSpec spec;

  @Command(
      name = "check",
      description = "Prints signatures that cannot be read, and pairs that cannot be told apart.")
  int check(@Mixin Inputs inputs) {
    PrintWriter out = spec.commandLine().getOut();
    SignatureBook book = inputs.signatures();
    book.problems().forEach(problem -> out.println("not readable: " + problem.sentence()));
    List<Clashes.Clash> clashes = Clashes.of(book);
    clashes.forEach(clash -> out.println("cannot be told apart: " + clash.sentence()));
    out.printf(
        "%d signatures, %d not readable, %d pairs that cannot be told apart%n",
        book.signatures().size(), book.problems().size(), clashes.size());
    out.flush();
    return !book.problems().isEmpty() ? Main.ERRORS : clashes.isEmpty() ? Main.FINE : Main.WARNINGS;
  }
}
