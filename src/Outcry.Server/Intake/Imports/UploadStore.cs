using System.Collections.Concurrent;
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
internal sealed class UploadStore : IDisposable
{
    /// <summary>Largest file taken, in bytes.</summary>
    public const long MostBytes = 256L * 1024 * 1024;
    private static readonly Duration Life = Duration.FromHours(1);

    private readonly IClock _clock;
    private readonly Timer _clearing;
    private readonly ConcurrentDictionary<Guid, Upload> _uploads = new();
    private readonly string _folder = Directory.CreateTempSubdirectory("outcry-uploads-").FullName;

    public UploadStore(IClock clock)
    {
        _clock = clock;
        _clearing = new Timer(_ => ForgetOld(), null, TimeSpan.FromMinutes(1), TimeSpan.FromMinutes(1));
    }

    /// <summary>Keeps a file; null when it is larger than <see cref="MostBytes"/>.</summary>
    public async Task<Upload?> KeepAsync(Guid siteId, string fileName, Stream content, CancellationToken stop)
    {
        var id = Guid.CreateVersion7();
        var path = Path.Combine(_folder, id.ToString("N"));
        long bytes = 0;
        await using (var file = File.Create(path))
        {
            var buffer = new byte[64 * 1024];
            while (await content.ReadAsync(buffer, stop) is var read and > 0)
            {
                bytes += read;
                if (bytes > MostBytes)
                    break;
                await file.WriteAsync(buffer.AsMemory(0, read), stop);
            }
        }
        if (bytes > MostBytes)
        {
            File.Delete(path);
            return null;
        }
        var upload = new Upload(
            id,
            siteId,
            fileName,
            path,
            bytes,
            ImportFile.ShapeOf(path),
            _clock.GetCurrentInstant()
        );
        _uploads[id] = upload;
        return upload;
    }

    public Upload? Find(Guid siteId, Guid id) =>
        _uploads.TryGetValue(id, out var upload) && upload.SiteId == siteId && !IsOld(upload) ? upload : null;

    public void Forget(Guid id)
    {
        if (_uploads.TryRemove(id, out var gone))
            File.Delete(gone.Path);
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

    private bool IsOld(Upload upload) => _clock.GetCurrentInstant() - upload.At > Life;
}
