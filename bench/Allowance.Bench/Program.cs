using Allowance.Bench;

Study.OtherWorld = Option(args, "--world") == "other";
return args switch
{
    ["forecast", .. var rest] => ForecastBench.Run(rest.Contains("--json"), Option(rest, "--only")),
    ["worst", .. var rest] => WorstBench.Run(rest.Contains("--json"), Option(rest, "--only"), Option(rest, "--tries"), Option(rest, "--seed"), rest.Contains("--api")),
    ["learner", .. var rest] => LearnerBench.Run(rest.Contains("--json"), Option(rest, "--seeds"), Option(rest, "--children")),
    ["advice", .. var rest] => AdviceBench.Run(rest.Contains("--json"), Option(rest, "--seeds"), Option(rest, "--children"), rest.Contains("--shifted")),
    ["web", .. var rest] => await WebBench.Run(rest.Contains("--json"), Option(rest, "--app")),
    ["store", .. var rest] => await StoreBench.Run(rest.Contains("--json"), Option(rest, "--app")),
    _ => Usage(),
};

static string? Option(string[] args, string name) => Array.IndexOf(args, name) is var i && i >= 0 && i + 1 < args.Length ? args[i + 1] : null;

static int Usage()
{
    Console.Error.WriteLine("bench forecast [--json] [--only MODE]   nanoseconds a simulated turn, against a floor of bare random draws");
    Console.Error.WriteLine("bench worst [--json] [--only GAME] [--tries 300] [--seed 1] [--api]   the ten most expensive settings of each game that the limits allow, with time and memory");
    Console.Error.WriteLine("bench learner [--json] [--seeds 11,12,13] [--children 200] [--world other]   how good the estimate is, on made-up children it was not tuned on, or on those of another make");
    Console.Error.WriteLine("bench advice [--json] [--seeds 31,32] [--children 100] [--shifted]   what twelve weeks of what is proposed bring made-up children");
    Console.Error.WriteLine("bench web [--json]        milliseconds a page, against a plain-text answer of the same process");
    Console.Error.WriteLine("bench store [--json]      milliseconds a page with 200,000 notes, and the start with them");
    return 2;
}
