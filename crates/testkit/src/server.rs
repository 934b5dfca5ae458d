//! A server of the built program on a port of its own, and a client that is signed in.

use std::io::{BufRead, BufReader};
use std::path::{Path, PathBuf};
use std::process::{Child, ChildStdin, Command, Stdio};
use std::sync::OnceLock;
use std::time::{Duration, Instant};

use reqwest::blocking::{Client as Http, RequestBuilder, Response};
use serde_json::{Value, json};
use tempfile::TempDir;

use crate::described::Described;
use crate::filled::fill;

/// What the program that is tested says of its API.
static DESCRIBED: OnceLock<Described> = OnceLock::new();

/// The password of everybody in the demo.
pub const PASSWORD: &str = "ferry-at-noon";

/// The program that was built beside the running test.
#[must_use]
pub fn binary() -> PathBuf {
    let test = std::env::current_exe().expect("the test has a path");
    let folder = test.ancestors().find(|folder| folder.join("iron-kite").is_file());
    folder.expect("build the program first: cargo xtask build").join("iron-kite")
}

/// A running server. It ends when this is dropped, and also when the test is killed.
pub struct Server {
    child: Child,
    _stdin: Option<ChildStdin>,
    /// Where it listens, such as `http://127.0.0.1:41234`.
    pub address: String,
    /// What it asks of whoever is to be the first owner, where there is none.
    pub first_code: Option<String>,
    dir: PathBuf,
    _temporary: Option<TempDir>,
}

impl Server {
    /// A server with the demo data in a folder of its own.
    #[must_use]
    pub fn demo() -> Self {
        Self::demo_with(&[])
    }

    /// A server with the demo data, started with more words on its command line.
    #[must_use]
    pub fn demo_with(more: &[&str]) -> Self {
        let dir = tempfile::tempdir().expect("a folder");
        fill(dir.path());
        let mut server = Self::start(&[&["demo"], more].concat(), dir.path());
        server._temporary = Some(dir);
        server
    }

    /// A server with the demo data in this folder, which are copied there where it is empty.
    #[must_use]
    pub fn demo_in(dir: &Path) -> Self {
        Self::demo_in_with(dir, &[])
    }

    /// The same, started with more words on its command line.
    #[must_use]
    pub fn demo_in_with(dir: &Path, more: &[&str]) -> Self {
        if std::fs::read_dir(dir).is_ok_and(|mut files| files.next().is_none()) {
            fill(dir);
        }
        Self::start(&[&["demo"], more].concat(), dir)
    }

    /// A server that plays the demo data into this folder where they are not there yet.
    pub(crate) fn play(dir: &Path) -> Self {
        Self::start(&["demo"], dir)
    }

    /// A server on an empty workspace in a folder of its own.
    #[must_use]
    pub fn empty() -> Self {
        let dir = tempfile::tempdir().expect("a folder");
        let mut server = Self::start(&["serve"], dir.path());
        server._temporary = Some(dir);
        server
    }

    /// A server on the workspace in this folder.
    #[must_use]
    pub fn on(dir: &Path) -> Self {
        Self::start(&["serve"], dir)
    }

    /// A server with the demo data that can write no file beyond so many bytes, as on a disk that is full then.
    #[must_use]
    pub fn demo_on_a_disk_of(bytes_beyond: u64) -> Self {
        let dir = tempfile::tempdir().expect("a folder");
        fill(dir.path());
        let files = std::fs::read_dir(dir.path()).expect("files").flatten();
        let longest = files.filter_map(|file| file.metadata().ok()).map(|file| file.len()).max().unwrap_or_default();
        // The shell counts in blocks of 512 bytes. What is too long is told by an error, and not by a signal.
        let limit = format!("trap '' XFSZ; ulimit -S -f {}; exec \"$@\"", (longest + bytes_beyond) / 512);
        let mut shell = Command::new("sh");
        shell.args(["-c", &limit, "sh"]).arg(binary());
        let mut server = Self::run(shell, &["demo"], dir.path());
        server._temporary = Some(dir);
        server
    }

    /// The number of its process.
    #[must_use]
    pub fn process(&self) -> u32 {
        self.child.id()
    }

    fn start(command: &[&str], dir: &Path) -> Self {
        Self::run(Command::new(binary()), command, dir)
    }

    fn run(mut program: Command, command: &[&str], dir: &Path) -> Self {
        let mut child = program
            .args(command)
            .args(["--port", "0", "--exit-on-stdin-eof", "--data"])
            .arg(dir)
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .spawn()
            .expect("the program starts");
        let out = BufReader::new(child.stdout.take().expect("its output is read"));
        let mut first_code = None;
        let address = out.lines().map_while(Result::ok).find_map(|line| {
            first_code = first_code.take().or_else(|| line.split("this code: ").nth(1).map(str::to_owned));
            line.split("listens at ").nth(1).map(str::to_owned)
        });
        let address = address.expect("the program says where it listens");
        Server { _stdin: child.stdin.take(), child, address, first_code, dir: dir.to_owned(), _temporary: None }
    }

    /// The folder of its workspace.
    #[must_use]
    pub fn dir(&self) -> &Path {
        &self.dir
    }

    /// The most memory that it took so far, in megabytes; 0 where the system does not say.
    #[must_use]
    pub fn most_memory(&self) -> u64 {
        let status = std::fs::read_to_string(format!("/proc/{}/status", self.child.id())).unwrap_or_default();
        let line = status.lines().find_map(|line| line.strip_prefix("VmHWM:")).unwrap_or_default();
        line.split_whitespace().next().and_then(|kilobytes| kilobytes.parse::<u64>().ok()).unwrap_or(0) / 1024
    }

    /// The memory that it and the processes that it started take now, in megabytes; 0 where the system does not say.
    #[must_use]
    pub fn memory_of_all(&self) -> u64 {
        let kilobytes = |process: u32| {
            let status = std::fs::read_to_string(format!("/proc/{process}/status")).unwrap_or_default();
            let line = status.lines().find_map(|line| line.strip_prefix("VmRSS:")).unwrap_or_default();
            line.split_whitespace().next().and_then(|kilobytes| kilobytes.parse::<u64>().ok()).unwrap_or(0)
        };
        // One that was started just now and is no other program yet is in the memory of the server, and no memory beside it.
        let program = |process: u32| std::fs::read(format!("/proc/{process}/cmdline")).unwrap_or_default();
        let own = program(self.process());
        let others = self.started().into_iter().filter(|process| program(*process) != own);
        (kilobytes(self.process()) + others.map(kilobytes).sum::<u64>()) / 1024
    }

    /// The numbers of the processes that it started and that run.
    #[must_use]
    pub fn started(&self) -> Vec<u32> {
        let threads = std::fs::read_dir(format!("/proc/{}/task", self.process())).into_iter().flatten().flatten();
        threads
            .filter_map(|thread| std::fs::read_to_string(thread.path().join("children")).ok())
            .flat_map(|children| children.split_whitespace().filter_map(|id| id.parse().ok()).collect::<Vec<u32>>())
            .collect()
    }

    /// Ends it at once, as a loss of power would.
    pub fn kill(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }

    /// A client of nobody.
    #[must_use]
    pub fn client(&self) -> Client {
        let http = Http::builder().cookie_store(true).build().expect("a client");
        Client { http, address: self.address.clone() }
    }

    /// A client of somebody of the demo, such as `wren`.
    #[must_use]
    pub fn signed_in(&self, name: &str) -> Client {
        let client = self.client();
        let email = format!("{name}@crossing.example");
        let answer = client.post("session", &json!({ "email": email, "password": PASSWORD }));
        assert_eq!(answer.status(), 200, "{name} signs in");
        client
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        self.kill();
    }
}

/// Somebody who asks over HTTP. Paths are those below `/api/v1/`.
pub struct Client {
    http: Http,
    address: String,
}

impl Client {
    /// A request of any sort.
    pub fn request(&self, method: &str, path: &str) -> RequestBuilder {
        let method = method.parse().expect("a method");
        self.http.request(method, format!("{}/api/v1/{path}", self.address))
    }

    /// Asks and expects an answer in JSON, as it is described.
    #[must_use]
    pub fn get(&self, path: &str) -> Value {
        self.ask(path).unwrap_or_else(|problem| panic!("GET {path}: {problem}"))
    }

    /// Asks; gives the answer or the problem, each as it is described.
    ///
    /// # Errors
    /// The problem.
    pub fn ask(&self, path: &str) -> Result<Value, Value> {
        self.answered("GET", path, self.request("GET", path))
    }

    /// What is answered, or the problem, each as it is described. A problem is the sender's and says so in words.
    fn answered(&self, method: &str, path: &str, request: RequestBuilder) -> Result<Value, Value> {
        let answer = request.send().expect("an answer");
        let status = answer.status().as_u16();
        let value: Value = answer.json().unwrap_or_default();
        let words = value["detail"].as_str().unwrap_or_default();
        let told = status == 200 || ((400..500).contains(&status) && words.len() > 10);
        assert!(told, "{method} {path} gets {status}: {value}");
        self.is_as_described(method, path, status, &value);
        if status == 200 { Ok(value) } else { Err(value) }
    }

    /// An answer in JSON must be what the API says of it.
    fn is_as_described(&self, method: &str, path: &str, status: u16, value: &Value) {
        const DESCRIPTION: &str = "openapi.json";
        if path == DESCRIPTION {
            return;
        }
        let described = DESCRIBED.get_or_init(|| Described::new(self.get(DESCRIPTION)));
        let faults = described.faults(method, path, status, value);
        assert!(faults.is_empty(), "{method} {path} answers otherwise than described: {faults:#?}");
    }

    /// Sends JSON.
    #[must_use]
    pub fn post(&self, path: &str, body: &Value) -> Response {
        self.request("POST", path).json(body).send().expect("an answer")
    }

    /// Sends JSON and expects that it worked, and an answer as it is described.
    pub fn done(&self, method: &str, path: &str, body: &Value) -> Value {
        self.tried(method, path, body).unwrap_or_else(|problem| panic!("{method} {path}: {problem}"))
    }

    /// Sends JSON; gives the answer or the problem, each as it is described.
    ///
    /// # Errors
    /// The problem.
    pub fn tried(&self, method: &str, path: &str, body: &Value) -> Result<Value, Value> {
        self.answered(method, path, self.request(method, path).json(body))
    }

    /// Puts a file of feedback down; gives what it holds.
    pub fn put_down(&self, product: i64, name: &str, bytes: impl Into<Vec<u8>>) -> Value {
        let path = format!("listen/files?product={product}&name={name}");
        let answer = self.request("POST", &path).body(bytes.into()).send().expect("an answer");
        assert_eq!(answer.status(), 200, "{name}");
        answer.json().expect("JSON")
    }

    /// Brings in the first part of a file that was put down; gives the job.
    pub fn bring_in(&self, product: i64, file: &Value) -> Value {
        let part = json!({ "file": file["id"], "part": 0, "columns": file["parts"][0]["proposed"] });
        self.done("POST", "listen/imports", &json!({ "product": product, "parts": [part] }))
    }

    /// Waits until a job is over, and gives it.
    ///
    /// # Panics
    /// Where it takes longer than ten minutes.
    #[must_use]
    pub fn over(&self, job: &Value) -> Value {
        let end = Instant::now() + Duration::from_secs(600);
        loop {
            let job = self.get(&format!("jobs/{}", job["id"]));
            if !["queued", "running"].contains(&job["state"].as_str().unwrap_or_default()) {
                return job;
            }
            assert!(Instant::now() < end, "the job does not end: {job}");
            std::thread::sleep(Duration::from_millis(30));
        }
    }

    /// Waits until something holds.
    ///
    /// # Panics
    /// Where it does not hold within two minutes.
    pub fn until(&self, what: &str, holds: impl Fn() -> bool) {
        let end = Instant::now() + Duration::from_secs(120);
        while !holds() {
            assert!(Instant::now() < end, "still not: {what}");
            std::thread::sleep(Duration::from_millis(30));
        }
    }

    /// The jobs of a product that brought something in, the newest first; what is read in the background is left out.
    pub fn brought(&self, product: i64) -> Vec<Value> {
        let Value::Array(jobs) = self.get(&format!("jobs?product={product}")) else { return Vec::new() };
        jobs.into_iter().filter(|job| job["kind"] == "bring_in" || job["kind"] == "look").collect()
    }

    /// Sends JSON and expects a problem of this code; gives the problem.
    pub fn refused(&self, method: &str, path: &str, body: &Value, code: &str) -> Value {
        let answer = self.request(method, path).json(body).send().expect("an answer");
        let kind = answer.headers().get("content-type").cloned();
        assert_eq!(kind.expect("a kind"), "application/problem+json", "{method} {path}");
        let status = answer.status().as_u16();
        let problem: Value = answer.json().expect("a problem");
        assert_eq!(problem["code"], code, "{method} {path}: {problem}");
        self.is_as_described(method, path, status, &problem);
        problem
    }
}
