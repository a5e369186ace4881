using System.Collections.Concurrent;
using System.Globalization;
using NodaTime;

namespace Outcry.Server.Intake.Imports;

/// <summary>A file that a member brought, waiting for its columns to be confirmed.</summary>
internal sealed record Upload(
    Guid Id,
    Guid SiteId,
    string FileName,
    string Path,
    long Bytes,
    FileShape Shape,
    Instant At
);

/// <summary>Keeps uploaded files for as long as it takes to import them; they name people, so never longer than an hour.</summary>
internal sealed partial class UploadStore : IDisposable
{
    /// <summary>Largest file taken, in bytes.</summary>
    public const long MostBytes = 256L * 1024 * 1024;

    /// <summary>Files of one site, and bytes of all sites on this node; beyond them the oldest make way.</summary>
    private const int MostOfSite = 10;
    private const long MostBytesOfAll = 4 * MostBytes;

    private const string FolderPrefix = "outcry-uploads-";
    private static readonly Duration Life = Duration.FromHours(1);
    private readonly IClock _clock;
    private readonly ILogger<UploadStore> _log;
    private readonly Timer _clearing;
    private readonly ConcurrentDictionary<Guid, Upload> _uploads = new();

    // The process stands in the name, so that whoever starts next can tell what was left behind.
    private readonly string _folder = Path.Combine(
        Path.GetTempPath(),
        $"{FolderPrefix}{Environment.ProcessId}-{Guid.NewGuid():N}"
    );

    public UploadStore(IClock clock, ILogger<UploadStore> log)
    {
        (_clock, _log) = (clock, log);
        ClearLeftBehind();
        if (OperatingSystem.IsWindows())
            Directory.CreateDirectory(_folder);
        else
            Directory.CreateDirectory(
                _folder,
                UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute
            );
        _clearing = new Timer(_ => ForgetOld(), null, TimeSpan.FromMinutes(1), TimeSpan.FromMinutes(1));
    }

    /// <summary>Keeps a file; null when it is larger than <see cref="MostBytes"/>.</summary>
    public async Task<Upload?> KeepAsync(Guid siteId, string fileName, Stream content, CancellationToken stop)
    {
        var id = Guid.CreateVersion7();
        var path = Path.Combine(_folder, id.ToString("N"));
        var isKept = false;
        try
        {
            if (await WriteAsync(path, content, stop) is not { } bytes)
                return null;
            var shape = ImportFile.ShapeOf(path);
            var upload = new Upload(id, siteId, fileName, path, bytes, shape, _clock.GetCurrentInstant());
            _uploads[id] = upload;
            isKept = true;
            MakeRoom(siteId);
            return upload;
        }
        finally
        {
            // Broken off, too large, or no file at all: nothing of it stays.
            if (!isKept)
                Delete(path);
        }
    }

    private static async Task<long?> WriteAsync(string path, Stream content, CancellationToken stop)
    {
        long bytes = 0;
        await using var file = File.Create(path);
        var buffer = new byte[64 * 1024];
        while (await content.ReadAsync(buffer, stop) is var read and > 0)
        {
            bytes += read;
            if (bytes > MostBytes)
                return null;
            await file.WriteAsync(buffer.AsMemory(0, read), stop);
        }
        return bytes;
    }

    private void MakeRoom(Guid siteId)
    {
        foreach (
            var old in _uploads.Values.Where(u => u.SiteId == siteId).OrderByDescending(u => u.At).Skip(MostOfSite)
        )
            Forget(old.Id);
        long sum = 0;
        foreach (var upload in _uploads.Values.OrderByDescending(u => u.At).ToList())
            if ((sum += upload.Bytes) > MostBytesOfAll)
                Forget(upload.Id);
    }

    public Upload? Find(Guid siteId, Guid id) =>
        _uploads.TryGetValue(id, out var upload) && upload.SiteId == siteId && !IsOld(upload) ? upload : null;

    public void Forget(Guid id)
    {
        if (_uploads.TryRemove(id, out var gone))
            Delete(gone.Path);
    }

    public void Dispose()
    {
        _clearing.Dispose();
        if (Directory.Exists(_folder))
            Directory.Delete(_folder, recursive: true);
    }

    /// <summary>Deletes what has been here for an hour; done by itself every minute.</summary>
    internal void ForgetOld()
    {
        foreach (var (id, upload) in _uploads)
            if (IsOld(upload))
                Forget(id);
    }

    // A process that was killed could not clear up after itself; what it had taken names people all the same.
    private void ClearLeftBehind()
    {
        foreach (var folder in Directory.EnumerateDirectories(Path.GetTempPath(), $"{FolderPrefix}*"))
            if (!IsAlive(Path.GetFileName(folder)[FolderPrefix.Length..].Split('-')[0]))
                try
                {
                    Directory.Delete(folder, recursive: true);
                }
                catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
                {
                    NotDeleted(failure, folder);
                }
    }

    private static bool IsAlive(string process)
    {
        if (!int.TryParse(process, NumberStyles.None, CultureInfo.InvariantCulture, out var id))
            return false;
        try
        {
            using var found = System.Diagnostics.Process.GetProcessById(id);
            return !found.HasExited;
        }
        catch (ArgumentException)
        {
            return false;
        }
    }

    private void Delete(string path)
    {
        try
        {
            File.Delete(path);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            NotDeleted(failure, path);
        }
    }

    private bool IsOld(Upload upload) => _clock.GetCurrentInstant() - upload.At > Life;

    [LoggerMessage(1204, LogLevel.Error, "An uploaded file could not be deleted: {Path}")]
    private partial void NotDeleted(Exception failure, string path);
}
