using Allowance.Core.Asks;
using Allowance.Core.Forms;

namespace Allowance.Core.Tuning;

/// <summary>The constants of choosing what to play, in one place, each with its reason. Tuned on one seed of <c>bench advice</c>.</summary>
public static class SearchConstants
{
    /// <summary>Of a band the leading skill of an ask gets most; the others share the rest, as they learn along.</summary>
    public const double LeadShare = .8;

    /// <summary>A first meeting is worth more in the forms that the household begins with: things and pictures, or numerals.</summary>
    public const double FirstForm = 1.2;

    /// <summary>After so many meetings of one band in a sitting the next brings half of what the first did.</summary>
    public const double HalfAfter = 15;

    /// <summary>Likewise of one and the same ask: what was met five times in ten minutes is soon known by heart for the day.</summary>
    public const double HalfAfterSame = 5;

    /// <summary>A game of facts that asks fewer different ones than these is worth less in proportion.</summary>
    public const double FewFacts = 5;

    /// <summary>What comes along without being an aim brings a little.</summary>
    public const double ComesAlong = .04;

    /// <summary>A mean chance of being right between these is pleasant; so far outside it is worth a third.</summary>
    public const double PleasantFrom = .71, PleasantTo = .83, PleasantFalls = .05;

    /// <summary>
    /// She is at ease where so large a share goes right, neither less nor more; by what is believed, that is so or so sure. How sure it is
    /// counts so many times over: of two games that bring as much, the one that is surely at ease. More brings fewer games into two weeks.
    /// </summary>
    public const double EaseFrom = .70, EaseTo = .88;

    public const int EaseCounts = 5;

    /// <summary>Asks that are hardly right are too hard; from one in five of them on they spoil a game, and each further tenth costs so much.</summary>
    public const double TooHard = .60, HardShare = .20, EachTenthTooHard = .35;

    /// <summary>Asks that are nearly always right bore; from six in ten on, likewise.</summary>
    public const double TooEasy = .95, EasyShare = .60, EachTenthTooEasy = .20;

    /// <summary>What was played in the last sitting, in the one before, and before that, is worth less: play lives on variety.</summary>
    public static readonly double[] PlayedLately = [.04, .16, .36, .56, .72, .85, .92];

    /// <summary>A third sitting running with the same game is proposed only where there is no other.</summary>
    public const double ThirdRunning = .02;

    /// <summary>A game that was not wished for is left alone for so many days, and comes back gently.</summary>
    public const int NotTodayDays = 3, NotTodayFades = 14;

    public const double NotTodayLeft = .6;

    /// <summary>"Again!" weighs, for so many days, as much as variety takes away at most.</summary>
    public const double Again = 1.3;

    public const int AgainDays = 7;

    /// <summary>
    /// Making things tonight is a bad bargain for a short game: each kind of thing costs so much, and each single one, as a sheet makes
    /// eight cards and fifty are an evening's work. What was played so before is made already.
    /// </summary>
    public const double EachKindToMake = .92, EachToMake = .97;

    /// <summary>A new game comes so many days after the last new one; until she knows a few, on the next day.</summary>
    public const int NewGameDays = 7, FewGames = 6;

    /// <summary>Who chooses a game herself begins it where she is right so often at most, if it has that for her.</summary>
    public const double BeginsAtMost = .92;

    /// <summary>A new game comes with numbers and forms that she holds: right so often at least, and hardly anything too hard.</summary>
    public const double NewGameRight = .78, NewGameHard = .15;

    /// <summary>Who is believed to read this number word so surely reads them.</summary>
    public const double ReadsWords = .85;

    /// <inheritdoc cref="ReadsWords"/>
    public static readonly Ask NumberWord = new(AskKind.Say, 7, Form.Word);

    /// <summary>A game that takes longer than there is time is cut short: worth so much where it takes twice as long.</summary>
    public const double TwiceAsLong = .7;

    /// <summary>So many of the best of each game are weighed by all that they ask.</summary>
    public const int LookedAtClosely = 8;

    /// <summary>So many of the best are played through in thought with her own answers, so many games each.</summary>
    public const int Finalists = 5, GamesInThought = 60;
}
