package sharptally.formats.connections;

import static java.util.Map.entry;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * Which settings of drivers are passed on: for the engines of ours those that are known to load no code, read no files but
 * certificates, and run no statements; for drivers that users bring, all that do not look as if they did.
 */
final class DriverSettings {
    private static final Pattern LOADS = Pattern.compile(
            "(?i).*(factory|plugin|class|callback|verifier|^init$|init_sql|listener|extension|infile|loadlocal"
                    + "|deserialize|interceptor|credentialtype|logger|trace|repository|options|service|localsocket).*");

    private static final List<String> MARIADB = List.of(
            "allowPublicKeyRetrieval",
            "cachePrepStmts",
            "connectionAttributes",
            "connectTimeout",
            "defaultFetchSize",
            "disableSslHostnameVerification",
            "enabledSslCipherSuites",
            "enabledSslProtocolSuites",
            "fallbackToSystemTrustStore",
            "includeInnodbStatusInDeadlockExceptions",
            "keyStore",
            "keyStoreType",
            "maxAllowedPacket",
            "prepStmtCacheSize",
            "prepStmtCacheSqlLimit",
            "restrictedAuth",
            "serverRsaPublicKeyFile",
            "serverSslCert",
            "socketTimeout",
            "sslMode",
            "tcpAbortiveClose",
            "tcpKeepAlive",
            "tcpKeepCount",
            "tcpKeepIdle",
            "tcpKeepInterval",
            "trustStore",
            "trustStoreType",
            "useBulkStmts",
            "useCompression",
            "useReadAheadInput",
            "useServerPrepStmts");

    /** How text files are written. */
    private static final List<String> TEXT_FILES =
            List.of("allow-broken", "delimiter", "encoding", "header", "names", "null", "quote");

    /** How an object store is reached. */
    private static final List<String> STORE = List.of("endpoint", "path-style", "profile", "region");

    private static List<String> with(List<String> some, List<String> others) {
        return Stream.concat(some.stream(), others.stream()).sorted().toList();
    }

    private static final Map<String, List<String>> KNOWN = Map.ofEntries(
            entry(
                    "oracle",
                    List.of(
                            "defaultRowPrefetch",
                            "oracle.jdbc.ReadTimeout",
                            "oracle.net.CONNECT_TIMEOUT",
                            "oracle.net.encryption_client",
                            "oracle.net.encryption_types_client",
                            "oracle.net.ssl_server_cert_dn",
                            "oracle.net.ssl_server_dn_match",
                            "oracle.net.ssl_version",
                            "v$session.program")),
            entry(
                    "sqlserver",
                    List.of(
                            "applicationIntent",
                            "applicationName",
                            "authenticationScheme",
                            "domain",
                            "encrypt",
                            "failoverPartner",
                            "hostNameInCertificate",
                            "instanceName",
                            "integratedSecurity",
                            "loginTimeout",
                            "multiSubnetFailover",
                            "packetSize",
                            "responseBuffering",
                            "sendStringParametersAsUnicode",
                            "serverCertificate",
                            "socketTimeout",
                            "sslProtocol",
                            "trustServerCertificate",
                            "trustStore",
                            "trustStoreType")),
            entry(
                    "postgresql",
                    List.of(
                            "adaptiveFetch",
                            "adaptiveFetchMaximum",
                            "adaptiveFetchMinimum",
                            "ApplicationName",
                            "assumeMinServerVersion",
                            "binaryTransfer",
                            "binaryTransferDisable",
                            "binaryTransferEnable",
                            "cancelSignalTimeout",
                            "channelBinding",
                            "connectTimeout",
                            "copy",
                            "defaultRowFetchSize",
                            "gssEncMode",
                            "gssResponseTimeout",
                            "hostRecheckSeconds",
                            "kerberosServerName",
                            "loadBalanceHosts",
                            "loginTimeout",
                            "maxResultBuffer",
                            "maxSendBufferSize",
                            "preferQueryMode",
                            "preparedStatementCacheQueries",
                            "preparedStatementCacheSizeMiB",
                            "prepareThreshold",
                            "receiveBufferSize",
                            "requireAuth",
                            "reWriteBatchedInserts",
                            "sendBufferSize",
                            "socketTimeout",
                            "sslcert",
                            "sslkey",
                            "sslmode",
                            "sslNegotiation",
                            "sslResponseTimeout",
                            "sslrootcert",
                            "targetServerType",
                            "tcpKeepAlive",
                            "tcpNoDelay")),
            entry("mariadb", MARIADB),
            entry("mysql", MARIADB),
            entry(
                    "trino",
                    List.of(
                            "applicationNamePrefix",
                            "clientInfo",
                            "clientTags",
                            "disableCompression",
                            "extraCredentials",
                            "roles",
                            "sessionProperties",
                            "sessionUser",
                            "source",
                            "SSL",
                            "SSLVerification",
                            "traceToken")),
            entry("h2", List.of("CACHE_SIZE", "CIPHER", "LOCK_TIMEOUT")),
            entry("duckdb", List.of("max_memory", "memory_limit", "threads")),
            entry("sqlite", List.of("busy_timeout", "cache_size")),
            entry("csv", with(STORE, TEXT_FILES)),
            entry("tsv", with(STORE, TEXT_FILES)),
            entry("jsonl", with(STORE, List.of("encoding", "names"))),
            entry("xlsx", with(STORE, List.of("header", "names", "sheet"))),
            entry("parquet", STORE),
            entry("dump", with(STORE, List.of("keep", "written"))),
            entry("spark", List.of("delimiter", "encoding", "format", "header", "lines", "quote")),
            entry("s3", with(STORE, with(TEXT_FILES, List.of("sheet")))),
            entry("https", with(TEXT_FILES, List.of("sheet"))),
            entry("http", with(TEXT_FILES, List.of("sheet"))));

    private static final List<String> FILES =
            List.of("csv", "tsv", "jsonl", "xlsx", "parquet", "dump", "spark", "s3", "https", "http");

    private DriverSettings() {}

    /** Why a setting is not passed on to the driver of an engine; empty where it is. */
    static Optional<String> refusal(String engine, String name) {
        if (LOADS.matcher(name).matches()) {
            return Optional.of(
                    "this setting lets the driver load code or files, or run statements, and is not passed on");
        }
        if (name.equalsIgnoreCase("currentSchema")) {
            return Optional.of("this setting has no effect: tables are named with their schema");
        }
        List<String> known = known(engine);
        return known.isEmpty() || known.stream().anyMatch(name::equalsIgnoreCase)
                ? Optional.empty()
                : Optional.of("this is none of the settings that are passed on to the driver");
    }

    /** What may stand in an address by its bare name: how files are written, which is no setting of a driver. */
    static List<String> ofAddress(String engine) {
        return FILES.contains(engine) ? known(engine) : List.of();
    }

    /** Empty where the driver is the user's own. */
    static List<String> known(String engine) {
        return KNOWN.getOrDefault(engine, List.of());
    }
}
