using System.Collections.Concurrent;
using System.Globalization;
using Dapper;
using DbUp;
using DbUp.Engine.Output;
using Microsoft.Data.Sqlite;

namespace Fralto.Store;

/// <summary>One SQLite file: one connection that writes, one transaction after the other, and as many that read as read at once. Readers
/// never wait for the writer.</summary>
internal sealed class SqliteFile : IDisposable
{
    private const int SqliteConstraint = 19;
    private const int MostIdleReaders = 8;
    private const int ProbeBytes = 64 * 1024;
    private static readonly TimeSpan TryAgainAfter = TimeSpan.FromSeconds(2);

    private readonly SqliteConnection _writer;
    private readonly ConcurrentBag<SqliteConnection> _readers = [];
    private readonly TimeProvider _clock;
    private readonly Lock _lock = new();
    private volatile bool _isClosed;
    private StorageTrouble? _trouble;

    private readonly ITimer _retry;
    private readonly string _notes;

    private SqliteFile(SqliteConnection writer, string path, string notes, TimeProvider clock)
    {
        (_writer, Path, _notes, _clock) = (writer, path, notes, clock);
        _retry = clock.CreateTimer(_ => TryAgain(), null, Timeout.InfiniteTimeSpan, Timeout.InfiniteTimeSpan);
    }

    /// <summary>Raised when nothing can be kept any more, and when it can again.</summary>
    public event Action? TroubleChanged;

    public string Path { get; }

    /// <summary>Why nothing can be kept at present; null while everything can.</summary>
    public StorageTrouble? Trouble => Volatile.Read(ref _trouble);

    /// <summary>Opens a file, creating it when missing. Its tables are what they were (<see cref="Migrate"/>).</summary>
    /// <param name="path">The file.</param>
    /// <param name="notes">Its table of keys and values.</param>
    /// <param name="clock">The clock.</param>
    /// <exception cref="SqliteException">It cannot be opened, or is none.</exception>
    public static SqliteFile Open(string path, string notes, TimeProvider clock)
    {
        KeepPrivate(path);
        var writer = new SqliteConnection(
            new SqliteConnectionStringBuilder
            {
                DataSource = path,
                ForeignKeys = true,
                Pooling = false,
            }.ToString()
        );
        try
        {
            writer.Open();
            writer.Execute("PRAGMA page_size = 16384; PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; PRAGMA busy_timeout = 5000;");
        }
        catch
        {
            writer.Dispose();
            throw;
        }
        return new(writer, path, notes, clock);
    }

    /// <summary>Deletes a file with what SQLite keeps beside it.</summary>
    public static void Delete(string path)
    {
        foreach (var its in AllOf(path))
            File.Delete(its);
    }

    /// <summary>Moves a closed file.</summary>
    public static void Move(string path, string to)
    {
        foreach (var (its, there) in AllOf(path).Zip(AllOf(to)))
            if (File.Exists(its))
                File.Move(its, there);
    }

    /// <summary>Brings its tables up to date.</summary>
    /// <param name="isIts">True for the names of the scripts that are to have run.</param>
    /// <exception cref="StoreException">They could not be.</exception>
    public void Migrate(Func<string, bool> isIts)
    {
        var result = DeployChanges
            .To.SqliteDatabase($"Data Source={Path};Pooling=False")
            .WithScriptsEmbeddedInAssembly(typeof(SqliteFile).Assembly, isIts)
            .WithTransactionPerScript()
            .LogTo(new NoOpUpgradeLog())
            .Build()
            .PerformUpgrade();
        if (!result.Successful)
            throw new StoreException(
                $"The tables in {Path} could not be brought up to date ({result.ErrorScript?.Name}): {result.Error.Message}",
                result.Error
            );
    }

    /// <summary>Copies rows of another file, all or none; those that are here already stay as they are.</summary>
    /// <param name="path">The other file.</param>
    /// <param name="tables">Names and columns of the tables.</param>
    /// <exception cref="StoreException">Nothing was copied.</exception>
    public void CopyFrom(string path, IReadOnlyCollection<(string Table, string Columns)> tables)
    {
        lock (_lock)
            _writer.Execute("ATTACH @path AS other", new { path });
        try
        {
            Write(transaction =>
                tables.Sum(t =>
                    _writer.Execute(
                        $"INSERT OR IGNORE INTO main.{t.Table} ({t.Columns}) SELECT {t.Columns} FROM other.{t.Table}",
                        null,
                        transaction
                    )
                )
            );
        }
        finally
        {
            lock (_lock)
                _writer.Execute("DETACH other");
        }
    }

    /// <summary>Reads; what is being written meanwhile is seen whole or not at all.</summary>
    public T Read<T>(Func<SqliteConnection, T> read)
    {
        if (!_readers.TryTake(out var reader))
            reader = OpenReader();
        if (reader is null)
        {
            // Another connection cannot be had: the file was taken away, or there are too many open. The one that writes can still read.
            lock (_lock)
                return read(_writer);
        }
        try
        {
            return read(reader);
        }
        finally
        {
            if (_isClosed || _readers.Count >= MostIdleReaders)
                reader.Dispose();
            else
                _readers.Add(reader);
        }
    }

    /// <summary>Writes in one transaction. What cannot be written leaves everything as it was, and the trouble is remembered until
    /// something can be written again.</summary>
    /// <exception cref="StoreException">Nothing was written; the message says why.</exception>
    public T Write<T>(Func<SqliteTransaction, T> write)
    {
        StorageTrouble? before,
            after;
        StoreException? failure = null;
        T result = default!;
        lock (_lock)
        {
            before = _trouble;
            try
            {
                // A file that was taken away goes on taking what is written, and none of it is ever seen again.
                if (!File.Exists(Path))
                    throw new StoreException($"the plant's file {Path} is gone; put it back, or stop Fralto and begin anew");
                using var transaction = _writer.BeginTransaction();
                result = write(transaction);
                transaction.Commit();
                after = null;
            }
            catch (SqliteException e) when (e.SqliteErrorCode == SqliteConstraint)
            {
                // Not the disk's fault: what was set aside when the plant was read still has its name, or is still referred to.
                (failure, after) = (
                    new StoreException($"it is at odds with something that is kept but could not be read ({e.Message})", e),
                    before
                );
            }
            catch (Exception e) when (e is SqliteException or StoreException)
            {
                var words = e is SqliteException s ? Words(s) : e.Message;
                (failure, after) = (new StoreException(words, e), new StorageTrouble(words, before?.Since ?? _clock.GetUtcNow()));
            }
            _trouble = after;
        }
        if (after is not null && !_isClosed)
            _retry.Change(TryAgainAfter, Timeout.InfiniteTimeSpan);
        if (before?.Words != after?.Words)
            TroubleChanged?.Invoke();
        return failure is null ? result : throw failure;
    }

    /// <summary>Writes one statement, once for each of its parameters.</summary>
    /// <exception cref="StoreException">Nothing was written.</exception>
    public void Write(string sql, object? parameters) => Write(transaction => _writer.Execute(sql, parameters, transaction));

    public void Dispose()
    {
        _isClosed = true;
        _retry.Dispose();
        while (_readers.TryTake(out var reader))
            reader.Dispose();
        lock (_lock)
            _writer.Dispose();
    }

    /// <summary>What a fault of the file means (SQLite, result codes).</summary>
    public static string Words(SqliteException e) =>
        e.SqliteErrorCode switch
        {
            13 => "the disk is full",
            8 => "the plant's file is read-only",
            10 => $"the disk fails ({e.Message})",
            5 or 6 => "another program holds the plant's file",
            11 or 26 => "the file is damaged, or is no plant; put back a copy of it",
            14 => "the plant's file cannot be opened; perhaps its directory may not be written to",
            _ => e.Message,
        };

    public static string Text(DateTimeOffset time) => time.UtcDateTime.ToString("O", CultureInfo.InvariantCulture);

    public static DateTimeOffset Time(string text) =>
        DateTimeOffset.Parse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal);

    private static string[] AllOf(string path) => [path, $"{path}-wal", $"{path}-shm"];

    /// <summary>Only its owner reads a plant: it holds what the plant is made of, and passwords, if encrypted.</summary>
    private static void KeepPrivate(string path)
    {
        const UnixFileMode Private = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        if (OperatingSystem.IsWindows())
            return;
        if (!File.Exists(path))
            new FileStream(
                path,
                new FileStreamOptions
                {
                    Mode = FileMode.OpenOrCreate,
                    Access = FileAccess.ReadWrite,
                    UnixCreateMode = Private,
                }
            ).Dispose();
        foreach (var its in AllOf(path))
            if (File.Exists(its) && (File.GetUnixFileMode(its) & ~Private) != 0)
                File.SetUnixFileMode(its, Private);
    }

    /// <summary>Trouble is over when something can be written again; nobody has to come and try.</summary>
    private void TryAgain()
    {
        if (_isClosed)
            return;
        try
        {
            // More than most that is written, or a disk that is nearly full would be said to be well and ill in turn.
            Write(
                $"INSERT INTO {_notes} (key, value) VALUES ('probe', hex(randomblob({ProbeBytes}))) ON CONFLICT (key) DO UPDATE SET "
                    + $"value = excluded.value",
                null
            );
            Write($"DELETE FROM {_notes} WHERE key = 'probe'", null);
        }
        catch (Exception e) when (e is StoreException or ObjectDisposedException or InvalidOperationException)
        {
            // It goes on, and is tried again; or the file has been closed meanwhile.
        }
    }

    private SqliteConnection? OpenReader()
    {
        if (!File.Exists(Path))
            return null;
        var reader = new SqliteConnection(
            new SqliteConnectionStringBuilder
            {
                DataSource = Path,
                Mode = SqliteOpenMode.ReadOnly,
                Pooling = false,
            }.ToString()
        );
        try
        {
            reader.Open();
            reader.Execute("PRAGMA busy_timeout = 5000;");
            return reader;
        }
        catch (SqliteException)
        {
            reader.Dispose();
            return null;
        }
    }
}
