using System.Collections.Concurrent;
using Outcry.Server.Platform;

namespace Outcry.Server.Tests;

/// <summary>What many ask for is written together, and nobody's fault is anybody else's.</summary>
public sealed class GroupCommitTests
{
    private readonly ConcurrentBag<int> _groups = [];
    private readonly TaskCompletionSource _open = new();

    private async Task<IReadOnlyList<int>> WriteAsync(IReadOnlyList<int> asked)
    {
        await _open.Task;
        if (asked.Contains(13))
            throw new InvalidOperationException("thirteen");
        _groups.Add(asked.Count);
        return [.. asked.Select(n => -n)];
    }

    [Fact]
    public async Task What_gathers_while_a_group_is_written_is_the_next_group()
    {
        var commit = new GroupCommit<int, int>(WriteAsync, mostInGroup: 40, lanes: 1);
        var first = commit.AskAsync(0);
        while (commit.Waiting > 0)
            await Task.Yield();
        var others = Enumerable.Range(101, 100).Select(n => commit.AskAsync(n)).ToList();
        _open.SetResult();
        Assert.Equal(Enumerable.Range(101, 100).Select(n => -n), await Task.WhenAll(others));
        Assert.Equal(0, await first);
        Assert.Equal([1, 20, 40, 40], _groups.Order());
    }

    [Fact]
    public async Task Heavy_ones_fill_a_group_by_their_weight()
    {
        var commit = new GroupCommit<int, int>(WriteAsync, mostInGroup: 10, lanes: 1);
        var first = commit.AskAsync(0);
        while (commit.Waiting > 0)
            await Task.Yield();
        var others = Enumerable.Range(1, 4).Select(n => commit.AskAsync(n, weight: 5)).ToList();
        _open.SetResult();
        await Task.WhenAll(others.Append(first));
        Assert.Equal([1, 2, 2], _groups.Order());
    }

    [Fact]
    public async Task One_that_cannot_be_written_fails_alone()
    {
        var commit = new GroupCommit<int, int>(WriteAsync, mostInGroup: 40, lanes: 1);
        var asked = Enumerable.Range(10, 6).ToDictionary(n => n, n => commit.AskAsync(n));
        _open.SetResult();
        await Assert.ThrowsAsync<InvalidOperationException>(() => asked[13]);
        foreach (var (number, answer) in asked.Where(a => a.Key != 13))
            Assert.Equal(-number, await answer);
    }

    [Fact]
    public async Task More_than_can_be_kept_is_refused_as_it_is_while_the_database_is_away()
    {
        var commit = new GroupCommit<int, int>(WriteAsync, mostInGroup: 40_000, lanes: 1);
        var first = commit.AskAsync(0);
        while (commit.Waiting > 0)
            await Task.Yield();
        var kept = Enumerable.Range(100, 20_000).Select(n => commit.AskAsync(n)).ToList();
        var refused = await Assert.ThrowsAsync<TooManyWaitException>(() => commit.AskAsync(1));
        Assert.True(Problems.IsDatabaseAway(refused));
        _open.SetResult();
        Assert.Equal(20_001, (await Task.WhenAll(kept.Append(first))).Length);
    }

    [Fact]
    public async Task Nobody_is_left_waiting_whenever_they_come()
    {
        _open.SetResult();
        var commit = new GroupCommit<int, int>(WriteAsync, mostInGroup: 3);
        await Task.WhenAll(
            Enumerable
                .Range(0, 8)
                .Select(sender =>
                    Task.Run(async () =>
                    {
                        for (var i = 0; i < 500; i++)
                            Assert.Equal(
                                -(100 + i),
                                await commit.AskAsync(100 + i).WaitAsync(TimeSpan.FromSeconds(20))
                            );
                    })
                )
        );
    }
}
