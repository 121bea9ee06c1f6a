using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Stories;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Tell It: a number story, and the sentence that goes with it.</summary>
public sealed class TellIt : CalledFrame
{
    public const string Listen = "listen", Act = "act", Tell = "tell", Write = "write", Any = "any";

    private const int MostWhole = 20;

    /// <summary>Who is in a story where nobody’s name is known.</summary>
    private static readonly string[] Somebody = ["Juno", "Otis", "Mags"];

    private static readonly ChoiceKind Kinds = ChoiceKind.Of(("joining", "something comes to it"), ("taking", "something goes away"), ("parts", "a whole and its parts"), ("comparing", "two are compared"), (Any, "now one, now another"));
    private static readonly ChoiceKind Unknowns = ChoiceKind.Of(("result", "what it comes to"), ("change", "what came, went or differs"), ("start", "what was there first"), (Any, "any of the three"));

    public static class Knobs
    {
        public static readonly Knob<ChoiceValue> Kind = new("kind", "Stories of", Kinds, Kinds["joining"], Belongs.RuleLevel, Scope.Both, Sits.Game, "What happens in the stories.");
        public static readonly Knob<ChoiceValue> Unknown = new("unknown", "Asked is", Unknowns, Unknowns["result"], Belongs.RuleLevel, Scope.Both, Sits.Game, "Which of the three numbers is to be found.");
        public static readonly Knob<RangeValue> Whole = new("whole", "The largest number", new RangeKind(1, MostWhole, OrOne: true), new RangeValue(new(3, 5)), Belongs.Range, Scope.Both, Sits.Things, "The largest of the three numbers.", KnobRole.Numbers);
        public static readonly Knob<WholeValue> Rounds = new("rounds", "Stories each", new WholeKind(1, 20), new WholeValue(5), Belongs.Length, Scope.Table, Sits.Game, "How many stories each player gets.");
        public static readonly Knob<NounsValue> Nouns = new("nouns", "They are about", new NounsKind(8), new NounsValue("shells", "buttons", "pebbles"), Belongs.Form, Scope.Table, Sits.Things, "The things in the stories, in the plural; those of the house are best.", KnobRole.Nouns);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning(null, "all together tell every story");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostWhole);
    }

    public override FrameData Data { get; } = new(
        "tellit", "Tell It", Family.Joining, "A story with numbers: act it, tell it, and say the sentence.", "It ends when everyone has had her stories.", 1, Engine.MostSeats,
        [Knobs.Kind, Knobs.Unknown, Knobs.Whole, Knobs.Rounds, Knobs.Nouns, Knobs.Winning, Knobs.Range, CommonKnobs.Support],
        [
            Level.Free(Listen, "Listen", "Somebody tells a story; say how many, and the sentence that goes with it."),
            Level.Free(Act, "Act it", "Somebody tells a story; act it with things, and say how many.", (CommonKnobs.Support, CommonKnobs.Supported(Support.Things))),
            Level.Free(Tell, "Tell your own", "Tell a story of your own to these numbers."),
            Level.Free(Write, "Write it", "Somebody tells a story; write the sentence that goes with it.", (Knobs.Unknown, Unknowns[Any])),
        ],
        Listen, [AskKind.Story]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup) => [];

    /// <param name="A">What it begins with, the first part, or the larger of two; the first number of the ask.</param>
    private readonly record struct Fact(StoryKind Kind, Unknown Unknown, int A, int B);

    /// <summary>
    /// Every two numbers once, with what happens to them: kinds and what is asked go round. None of something is told of the largest
    /// whole only: of small numbers half of the stories would have nothing in them.
    /// </summary>
    private static IEnumerable<Fact> Facts(Setup setup, int seat)
    {
        var range = setup.At(seat, Knobs.Whole).Range;
        string kind = setup.At(seat, Knobs.Kind).Id, unknown = setup.At(seat, Knobs.Unknown).Id;
        StoryKind[] kinds = kind == Any ? Enum.GetValues<StoryKind>() : [Kind(kind)];
        Unknown[] unknowns = unknown == Any ? Enum.GetValues<Unknown>() : [(Unknown)Unknowns.Options.ToList().FindIndex(o => o.Id == unknown)];
        int told = 0;
        for (int whole = range.Low; whole <= range.High; whole++)
            for (int none = whole == range.High ? 0 : 1, part = none; part <= whole - none; part++, told++)
            {
                var now = kinds[told % kinds.Length];
                int first = now is StoryKind.Taking or StoryKind.Comparing ? whole : whole - part;
                var asked = unknowns[told / kinds.Length % unknowns.Length];
                // Nobody says "some" of none.
                if (now != StoryKind.Comparing && (asked == Unknown.Change ? part : asked == Unknown.Start ? first : 1) == 0)
                {
                    if (unknowns.Length == 1) continue;
                    asked = Unknown.Result;
                }
                yield return new(now, asked, first, part);
            }
    }

    private static StoryKind Kind(string id) => (StoryKind)Kinds.Options.ToList().FindIndex(o => o.Id == id);

    public override IReadOnlyList<Call> Calls(Setup setup, int seat)
    {
        string level = setup.LevelAt(seat);
        var support = CommonKnobs.SupportAt(setup, seat);
        var nouns = setup.Get(Knobs.Nouns).Nouns.Select(Noun.FromSeveral).ToList();
        var people = setup.Seats.Where(s => s.Name.Length > 0).Select(s => s.Name).Distinct().ToList();
        if (people.Count < 2) people = [.. people.Concat(Somebody).Distinct().Take(Somebody.Length)];
        var form = level == Write ? Form.Equation : Form.Objects;
        return [.. Facts(setup, seat).Take(MostCalls).Select((fact, i) =>
        {
            var (who, other) = (people[i % people.Count], people[(i + 1) % people.Count]);
            var story = Story.Tell(fact.Kind, fact.Unknown, fact.A, fact.B, nouns[i % nouns.Count], who, other, 7 * i + seat);
            IReadOnlyList<Zone> lies = level == Tell ? [new Stage("The numbers", [new(0, fact.A, Form.Numeral, ItemState.Up, false), new(1, fact.B, Form.Numeral, ItemState.Up, false)]) { Between = [Sign(fact.Kind)] }] : [new StoryCard("The story", story.Sentences)];
            return new Call([new(AskKind.Story, fact.A, fact.B, form, support)], fact.Kind is StoryKind.Taking or StoryKind.Comparing ? fact.A : fact.A + fact.B, $"{Named(fact.Kind)}: {fact.A} and {fact.B}", Says(level, fact), lies) { Tells = Sentence(fact), Helps = Sentence(fact) };
        })];
    }

    /// <summary>The sentence that goes with it, as it is written.</summary>
    private static string Sentence(Fact fact) => fact.Kind is StoryKind.Taking or StoryKind.Comparing ? $"{fact.A} − {fact.B} = {fact.A - fact.B}" : $"{fact.A} + {fact.B} = {fact.A + fact.B}";

    private static string Named(StoryKind kind) => kind switch { StoryKind.Joining => "joining", StoryKind.Taking => "taking away", StoryKind.Parts => "whole and parts", _ => "comparing" };

    /// <summary>What stands between the two numbers of a story.</summary>
    private static string Sign(StoryKind kind) => kind is StoryKind.Taking ? "−" : kind is StoryKind.Comparing ? "·" : "+";

    private static string Says(string level, Fact fact) => level switch
    {
        Act => "Act it with things: how many?",
        Tell => fact.Kind switch { StoryKind.Joining => "Tell a story: something comes to it.", StoryKind.Taking => "Tell a story: something goes away.", StoryKind.Parts => "Tell a story of a whole and its parts.", _ => "Tell a story: who has more?" },
        Write => "Write the sentence that goes with it.",
        _ => "How many? Say the whole sentence.",
    };

    protected override int Rounds(Setup setup) => setup.Get(Knobs.Rounds).Number;

    protected override float Handling(Setup setup, Call call) => Games.Handling.TellStory + (setup.LevelId == Write ? Games.Handling.WriteSentence : setup.LevelId == Act ? Games.Handling.LayThing * call.Number : 0);

    protected override void AddFacts(Setup setup, Rules.Facts facts) => facts["stories"] = PerSeat(setup, s => new NumberFact(Facts(setup, s).Take(MostCalls).Count()));

    protected override string Brings(Setup setup) => "The next story comes.";

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var seats = Enumerable.Range(0, setup.Seats.Length).ToList();
        int things = seats.Where(s => setup.LevelAt(s) == Act).Select(s => setup.At(s, Knobs.Whole).Range.High).DefaultIfEmpty().Max();
        return [.. things > 0 ? [new Need(Need.Pieces, things)] : Array.Empty<Need>(), .. seats.Any(s => setup.LevelAt(s) == Write) ? [new Need("sheets of paper", 1, "sheet of paper")] : Array.Empty<Need>()];
    }

    public override IReadOnlyList<string> GetReady(Setup setup) =>
    [
        setup.LevelId == Tell ? "You say two numbers and what happens; the story is hers." : "You tell the story, or read it out from the screen; slowly, and twice if she likes.",
        $"It is about {setup.Get(Knobs.Nouns)}, or about whatever lies at hand.",
        .. setup.LevelId == Act ? ["Things to act it with lie ready."] : Array.Empty<string>(),
    ];

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.Whole);

    public override bool Matters(Setup setup, Knob knob) => knob != Knobs.Nouns || Enumerable.Range(0, setup.Seats.Length).Any(s => setup.LevelAt(s) != Tell);

    public override string Summary(Setup setup) => $"{Named(setup)}, up to {setup.Get(Knobs.Whole).Range.High}";

    private static string Named(Setup setup) => setup.Get(Knobs.Kind).Id == Any ? "stories of all kinds" : $"stories of {Named(Kind(setup.Get(Knobs.Kind).Id))}";
}
