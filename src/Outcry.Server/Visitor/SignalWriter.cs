using Outcry.Server.Platform;
using Outcry.Store.Signals;

namespace Outcry.Server.Visitor;

/// <summary>Commits signals in groups: whoever waits is answered once its own signals are on disk.</summary>
internal sealed partial class SignalWriter
{
    /// <summary>Signals in one commit at most.</summary>
    private const int MostInGroup = 5_000;

    private readonly SignalCopy _copy;
    private readonly ILogger<SignalWriter> _log;
    private readonly GroupCommit<IReadOnlyList<Signal>, bool> _groups;

    public SignalWriter(SignalCopy copy, ILogger<SignalWriter> log)
    {
        (_copy, _log) = (copy, log);
        _groups = new GroupCommit<IReadOnlyList<Signal>, bool>(CommitAsync, MostInGroup);
    }

    /// <summary>Writes the signals; returns once they are committed.</summary>
    /// <returns>False when they could not be written; the sender may try again.</returns>
    public async Task<bool> WriteAsync(IReadOnlyList<Signal> signals)
    {
        try
        {
            return signals.Count == 0 || await _groups.AskAsync(signals, signals.Count);
        }
        catch (Exception failure)
        {
            NotWritten(failure, signals.Count);
            return false;
        }
    }

    private async Task<IReadOnlyList<bool>> CommitAsync(IReadOnlyList<IReadOnlyList<Signal>> group)
    {
        List<Signal> signals = [.. group.SelectMany(s => s).DistinctBy(s => s.Id)];
        await _copy.WriteAsync(signals, CancellationToken.None);
        Telemetry.Took(signals.Count);
        return [.. group.Select(_ => true)];
    }

    [LoggerMessage(1201, LogLevel.Warning, "{Signals} signals of a request were not written")]
    private partial void NotWritten(Exception failure, int signals);
}
