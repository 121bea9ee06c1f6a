using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>All frames. A new frame adds its line here.</summary>
public static class Catalogue
{
    public static IReadOnlyList<Frame> All { get; } =
    [
        new Gather(),
        new Errand(),
        new Spots(),
        new RollTell(),
        new SomeGone(),
        new Glimpse(),
        new Lookalikes(),
        new ChainCall(),
        new Panes(),
        new CountBox(),
        new Topper(),
        new EvenPlates(),
        new Around(),
        new LineWalk(),
        new DownLine(),
        new Lift(),
        new Homing(),
        new Door(),
        new Partners(),
        new EmptySeat(),
        new ManyMakes(),
        new NearMiss(),
        new Nudge(),
        new Hedge(),
        new Gates(),
        new TellIt(),
        new TallyUp(),
        new SpotSum(),
        new TargetHand(),
        new Balance(),
        new RunningTotal(),
    ];

    public static IReadOnlyList<FrameData> Data { get; } = [.. All.Select(f => f.Data)];

    public static Frame Of(Setup setup) => All.First(f => f.Data == setup.Frame);

    public static Playable? Check(Setup setup) => Of(setup).Check(setup);

    /// <summary>Reads a setup file and checks it by its frame's rules.</summary>
    public static CheckedReading Read(string json) => Checked(SetupFile.Read(json, Data));

    /// <summary>Reads a link or a posted form and checks it. See <see cref="SetupFile.ReadLink"/>.</summary>
    public static CheckedReading ReadLink(IEnumerable<KeyValuePair<string, string>> pairs, Func<string, Seat?> seatOf) =>
        Checked(SetupFile.ReadLink(pairs, Data, seatOf));

    private static CheckedReading Checked(SetupReading reading)
    {
        if (reading.Setup is not { } setup || reading.Problems.Count > 0) return new(reading.Setup, null, reading.Options, reading.Problems, reading.IsJson);
        var playable = Of(setup).Check(setup, out var problems);
        if (playable is null || reading.Position is not { } asked) return new(setup, playable, reading.Options, problems, reading.IsJson);
        var wrong = new List<Problem>();
        return playable.At(asked, wrong) is { } position ? new(setup, playable, reading.Options, [], Position: position) : new(setup, null, reading.Options, wrong);
    }
}

/// <summary>A setup as read and checked.</summary>
/// <param name="Setup">Null where it could not be read.</param>
/// <param name="Playable">Null where there are problems.</param>
/// <param name="IsJson">False where the text is no JSON at all.</param>
/// <param name="Position">What is told of a position that the file asks about.</param>
public sealed record CheckedReading(Setup? Setup, Playable? Playable, ForecastOptions Options, IReadOnlyList<Problem> Problems, bool IsJson = true, Facts? Position = null);
