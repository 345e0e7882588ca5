package sharptally.cli.compare;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import sharptally.api.job.DraftJob;
import sharptally.api.job.JobRequest;
import sharptally.api.job.Narrowing;
import sharptally.api.job.beside.DeclarationsLook;
import sharptally.api.job.many.StructureJob;
import sharptally.cli.option.Connections;
import sharptally.cli.screen.JsonResult;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.report.matrix.StructureText;
import sharptally.report.text.Style.Meaning;

/**
 * What two databases declare of their tables, on the screen.
 *
 * @param ddlOut where statements are written that make what the target lacks
 */
public record SideBySide(Screen screen, Optional<Path> ddlOut, boolean json) {
    /** Looks at both; gives the exit code. */
    @SuppressWarnings("try")
    public int run(String source, String target) {
        ddlOut.filter(Files::exists).ifPresent(file -> {
            throw new ToolException(
                    ErrorKind.USAGE, "there is such a file already", file.toString(), "name another one, or remove it");
        });
        Connections places = Connections.ofUser();
        StructureJob job = new StructureJob(new JobRequest(
                places.resolve(source),
                places.resolve(target),
                Optional.empty(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                Narrowing.NONE,
                false));
        StructureJob.Found found;
        try (Screen.Status status = screen.status("connecting, and looking at the tables")) {
            found = job.find();
        }
        ddlOut.ifPresent(file -> DraftJob.write(file, ddl(found)));
        if (json) {
            return JsonResult.done(screen, "survey", 0, found);
        }
        print(source, target, found);
        return 0;
    }

    private static String ddl(StructureJob.Found found) {
        List<String> lines = new ArrayList<>(List.of(
                "-- What " + found.target() + " lacks beside " + found.source() + ".",
                "-- A proposal: read it, and what is marked CHECK, before somebody runs it. Nothing of it was run.",
                ""));
        lines.addAll(found.ddl().isEmpty() ? List.of("-- Nothing is missing.") : found.ddl());
        return String.join("\n", lines) + "\n";
    }

    private void print(String source, String target, StructureJob.Found found) {
        var style = screen.style();
        screen.print(List.of(
                style.paint("source", Meaning.HEADING) + "  " + found.source(),
                style.paint("target", Meaning.HEADING) + "  " + found.target(),
                ""));
        screen.print(StructureText.lines(
                DeclarationsLook.kept(found.differences()), found.shapes(), found.untold(), style, screen.columns()));
        lone("only in the source", found.onlySource());
        lone("only in the target", found.onlyTarget());
        screen.print(List.of(StructureText.verdict(
                found.tables(),
                found.differences().size(),
                found.shapes().size(),
                found.onlySource().size() + found.onlyTarget().size())));
        ddlOut.ifPresent(file -> screen.print(List.of("written  " + file)));
        if (!found.ddl().isEmpty() && ddlOut.isEmpty()) {
            screen.next(
                    "write what would make them in the target",
                    List.of("survey", source, target, "--ddl-out", "missing.sql"));
        } else {
            screen.next("compare their rows", List.of("compare", source, target));
        }
    }

    private void lone(String what, List<String> tables) {
        if (!tables.isEmpty()) {
            screen.print(List.of(what + ": " + String.join(", ", tables), ""));
        }
    }
}
