package sharptally.core.place;

import java.util.Optional;
import java.util.function.UnaryOperator;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.part.ChangeSession;
import sharptally.core.place.part.Changes;
import sharptally.core.sql.SqlDialect;

/** A place that is not opened yet: its engine, and all that this needs to open it. */
public record Endpoint(Engine engine, PlaceAccess access) {
    /** The address as the user wrote it, by which the place is named in all that is shown and stored. */
    public Address label() {
        return access.label();
    }

    /** Where it is. */
    public Address address() {
        return access.address();
    }

    /** The same place, opened in another way. */
    public Endpoint opened(UnaryOperator<PlaceAccess> how) {
        return new Endpoint(engine, how.apply(access));
    }

    /** The same place, which is to be compared with another one and may read that, too, where the engine can. */
    public Endpoint beside(Endpoint other) {
        return new Endpoint(engine, access.beside(other.address()));
    }

    /**
     * @throws ToolException when it is not there, is no such database, or refuses us
     */
    public Place open() {
        return engine.open(access);
    }

    /**
     * Opens it for changing rows.
     *
     * @throws ToolException as {@link #open}, and when it can only be read
     */
    public ChangeSession openForChanges() {
        return changes().open(access);
    }

    /**
     * @throws ToolException when it can only be read
     */
    public SqlDialect dialect() {
        return changes().dialect();
    }

    private Changes changes() {
        Optional<Changes> changes = engine.changes();
        return changes.orElseThrow(() -> new ToolException(
                ErrorKind.REFUSED, "this can only be read, not changed", label().toString(), "name another one"));
    }
}
