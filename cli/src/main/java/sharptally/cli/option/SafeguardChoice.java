package sharptally.cli.option;

import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Option;
import sharptally.cli.help.Words;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.script.write.ScriptSafeguards;

/** What is done around changes. */
public final class SafeguardChoice {
    @Option(
            names = "--backup",
            paramLabel = "SUFFIX",
            description = {
                "Keep rows as they were in TABLE_tally_SUFFIX.",
                "Those that are changed or deleted; the tables are made beside theirs."
            })
    Optional<String> backup = Optional.empty();

    @Option(names = "--no-triggers", description = "Disable triggers meanwhile, where possible.")
    public boolean noTriggers;

    @Option(
            names = "--narrow-guards",
            description = {
                "Guard only key and changed columns of updates.",
                "A row in which another compared column was changed meanwhile is then updated all the same."
            })
    boolean narrowGuards;

    @Option(
            names = "--allow-cascade",
            description = {
                "Delete rows also where others go with them.",
                "Rows of other tables that refer to them by ON DELETE CASCADE or SET NULL are then deleted or changed by the"
                        + " database, and no undo brings them back. Without this, such a deletion stops everything."
            })
    boolean allowCascade;

    @Option(
            names = "--allow-partial",
            description = {
                "Change tables that have no transactions.",
                "Such as those of MyISAM: what was done before a failure stays done."
            })
    boolean allowPartial;

    @Option(
            names = "--lock-wait",
            paramLabel = "TIME",
            defaultValue = "30s",
            description = "How long to wait for a lock. Default: ${DEFAULT-VALUE}.")
    String lockWait = "30s";

    /** The options that choose the same. */
    public List<String> words() {
        return new Words()
                .option("--backup", backup)
                .flag("--no-triggers", noTriggers)
                .flag("--narrow-guards", narrowGuards)
                .flag("--allow-cascade", allowCascade)
                .flag("--allow-partial", allowPartial)
                .option("--lock-wait", Optional.of(lockWait).filter(wait -> !wait.equals("30s")))
                .list();
    }

    public ScriptSafeguards choice() {
        backup.filter(suffix -> !suffix.matches("\\w{1,40}")).ifPresent(suffix -> {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "not the end of a table's name: " + suffix,
                    "--backup",
                    "write letters, digits and _, such as before_fix");
        });
        return new ScriptSafeguards(
                noTriggers,
                narrowGuards,
                allowCascade,
                allowPartial,
                backup,
                Optional.of(Durations.parse("--lock-wait", lockWait)));
    }
}
