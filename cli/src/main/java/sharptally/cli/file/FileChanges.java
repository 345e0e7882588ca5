package sharptally.cli.file;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import sharptally.api.job.change.RewriteJob;
import sharptally.api.job.change.TargetChanges;
import sharptally.cli.screen.Screen;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Side;
import sharptally.report.text.ChangeText;
import sharptally.report.text.Figures;

/** Fixes files, which are not changed but written anew, and looks whether the new ones differ. */
public record FileChanges(Screen screen, TargetChanges mending, RewriteJob job, Look look) {
    /** Compares another place with the source of the run. */
    public interface Look {
        /** How many rows of the run still differ there. */
        long left(Endpoint other);
    }

    /**
     * What became of it, as JSON.
     *
     * @param files the new ones
     * @param kept the old ones, which are what takes it back
     * @param left rows of the run that still differ; empty where that was not looked at
     */
    public record Result(RewriteJob.Written written, List<String> files, List<String> kept, OptionalLong left) {
        public int code() {
            return left.orElse(0) > 0 ? 1 : 0;
        }
    }

    /** What would be changed. */
    public void outlook() {
        var found = job.outlook();
        screen.print(ChangeText.lines(found.counts(), screen.style()));
        mending.leftOut().ifPresent(left -> screen.print(List.of(left)));
        found.warnings().forEach(warning -> screen.say("sharp-tally: warning: " + warning));
    }

    /**
     * @param to the new file, or the folder of several
     * @param publish whether it goes where the old one is
     */
    public Result write(Path to, boolean publish) {
        RewriteJob.Written written = job.write(to);
        List<Path> files =
                written.files().values().stream().flatMap(List::stream).toList();
        List<String> names = files.stream()
                .map(f -> publish ? job.publish(f).orElse(f.toString()) : f.toString())
                .toList();
        screen.print(List.of(""));
        names.forEach(name -> screen.print(List.of("file    " + name)));
        List<String> kept = publish
                        && names.size() == 1
                        && !names.get(0).equals(files.get(0).toString())
                ? List.of(mending.place())
                : written.kept().stream().map(Path::toString).toList();
        kept.forEach(name -> screen.print(List.of("undo    " + name + ", which stays as it is")));
        return new Result(written, names, kept, lookAgain(written.files()));
    }

    /** One new file is held against the other side. */
    private OptionalLong lookAgain(Map<String, List<Path>> files) {
        boolean one = files.size() == 1 && files.values().iterator().next().size() == 1;
        if (!one || mending.toward() == Side.SOURCE) {
            return OptionalLong.empty();
        }
        screen.print(List.of("", "comparing the new file", ""));
        Map.Entry<String, List<Path>> file = files.entrySet().iterator().next();
        return OptionalLong.of(look.left(job.with(file.getValue().get(0), file.getKey())));
    }

    public static String verdict(Result result) {
        return result.left().isEmpty()
                ? "written: " + String.join(", ", result.files())
                : result.left().getAsLong() == 0
                        ? "nothing of the run differs in the new file any more"
                        : Figures.count(result.left().getAsLong(), "row") + " of the run still differ in the new file";
    }
}
