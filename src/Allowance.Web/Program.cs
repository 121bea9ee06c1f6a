using System.CommandLine;
using Allowance.Web.Commands;

var port = new Option<int>("--port") { Description = "The port on this machine.", DefaultValueFactory = _ => 5210 };
var data = new Option<DirectoryInfo?>("--data") { Description = "The directory of the household's file." };

var serve = new Command("serve", "Serve the household's pages.") { port, data };
serve.SetAction(parsed => Serving.Run(parsed.GetValue(port), DataDirectory.Of(parsed.GetValue(data)), demo: false));

var demo = new Command("demo", "Serve a made-up household with twelve weeks of play.") { port, data };
demo.SetAction(parsed => Serving.Run(parsed.GetValue(port), parsed.GetValue(data)?.FullName ?? DataDirectory.ForDemo, demo: true));

var file = new Argument<string>("FILE") { Description = "A setup file, or - for standard input.", Arity = ArgumentArity.ZeroOrOne };
var many = new Option<string?>("--many") { Description = "A file with one setup a line." };
var forecast = new Command("forecast", "Print what playing a setup will be like, as JSON.") { file, many };
forecast.SetAction(parsed => ForecastCommand.Run(parsed.GetValue(file), parsed.GetValue(many), Console.Out));

var observations = new Argument<string>("OBSERVATIONS") { Description = "A file of observations (CSV), or - for standard input." };
var predict = new Option<string?>("--predict") { Description = "A file of asks (CSV: player,at,ask) to foretell." };
var age = new Option<double?>("--age") { Description = "The children's age in years on the first day, where it is known." };
var learn = new Command("learn", "Print what a file of observations says of its children, as JSON.") { observations, predict, age };
learn.SetAction(parsed => LearnCommand.Run(parsed.GetValue(observations)!, parsed.GetValue(predict), parsed.GetValue(age), Console.Out));

var minutes = new Option<int>("--minutes") { Description = "How long is played.", DefaultValueFactory = _ => 10 };
var with = new Option<string[]>("--with") { Description = "Who of the file sits at one table; all of them where nobody is named.", AllowMultipleArgumentsPerToken = true };
var drawer = new Option<string?>("--drawer") { Description = "A file of what there is to play with; everything where there is none." };
var week = new Option<bool>("--week") { Description = "Also plan the week after the last day of the file." };
var advise = new Command("advise", "Print what the children of a file of observations could play, and why, as JSON.") { observations, age, minutes, with, drawer, week };
advise.SetAction(parsed => AdviseCommand.Run(parsed.GetValue(observations)!, new(parsed.GetValue(age), parsed.GetValue(minutes), parsed.GetValue(with) ?? [], parsed.GetValue(drawer), parsed.GetValue(week)), Console.Out));

var directory = new Argument<string>("DIRECTORY") { Description = "Where the documents stand." };
var docs = new Command("docs", "Write the pages that are made from the code's own data.") { directory };
docs.SetAction(parsed => DocsCommand.Run(parsed.GetValue(directory)!));

var root = new RootCommand("Allowance: adapts games for young children.") { serve, demo, forecast, learn, advise, docs };
root.SetAction(parsed => Serving.Run(parsed.GetValue(port), DataDirectory.Of(null), demo: false));
root.Options.Add(port);
return root.Parse(args).Invoke();
