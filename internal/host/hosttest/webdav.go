package hosttest

import (
	"crypto/md5" //nolint:gosec // what Digest by RFC 2617 is made of
	"encoding/hex"
	"fmt"
	"os"
	"os/exec"
	"strconv"
	"testing"
)

// apacheConf has what Debian's packages switch on: deflate for text, an index page, mod_dav as its manual shows it.
const apacheConf = `
ServerRoot {conf}
PidFile {conf}/pid
ServerName localhost
Listen 127.0.0.1:{port}
User www-data
Group www-data
ErrorLog {conf}/error.log
Mutex file:{conf}
{modules}
TypesConfig /etc/mime.types
AddOutputFilterByType DEFLATE text/html text/plain text/xml text/css
DavLockDB {conf}/locks
DocumentRoot {dir}
DirectoryIndex {index}
<Directory {dir}>
  Dav On
  Options Indexes FollowSymLinks
  AuthType {auth}
  AuthName "site"
  {provider}
  Require valid-user
</Directory>
`

func apache(t testing.TB, dir, auth, index string) *Server {
	t.Helper()
	modules := ""
	for _, m := range []string{
		"mpm_event", "authn_core", "authn_file", "authz_core", "authz_user", "authz_host", "auth_basic", "auth_digest", "dav", "dav_fs", "dav_lock",
		"deflate", "filter", "mime", "dir", "setenvif", "alias",
	} {
		modules += fmt.Sprintf("LoadModule %s_module /usr/lib/apache2/modules/mod_%s.so\n", m, m)
	}
	sum := md5.Sum([]byte(User + ":site:" + Password)) //nolint:gosec // RFC 2617, 3.2.2.2
	conf := config(t, map[string]string{
		"basic":  User + ":{PLAIN}" + Password + "\n",
		"digest": User + ":site:" + hex.EncodeToString(sum[:]) + "\n",
	})
	if out, err := exec.Command("openssl", "passwd", "-apr1", Password).Output(); err == nil {
		write(t, conf+"/basic", User+":"+string(out))
	}
	port := freePort(t)
	provider := "AuthUserFile " + conf + "/basic"
	if auth == "Digest" {
		provider = "AuthDigestProvider file\n  AuthUserFile " + conf + "/digest"
	}
	write(
		t,
		conf+"/conf",
		fill(
			apacheConf,
			"{conf}",
			conf,
			"{port}",
			strconv.Itoa(port),
			"{dir}",
			dir,
			"{modules}",
			modules,
			"{auth}",
			auth,
			"{provider}",
			provider,
			"{index}",
			index,
		),
	)
	return run(
		t,
		dir,
		"apache2",
		port,
		func(p string) *exec.Cmd { return exec.Command(p, "-f", conf+"/conf", "-DFOREGROUND") },
	)
}

func apacheStock(t testing.TB, dir string) *Server  { return apache(t, dir, "Basic", "disabled") }
func apacheDigest(t testing.TB, dir string) *Server { return apache(t, dir, "Digest", "disabled") }

// ApacheWithIndex is one that answers a listing of a folder with an index page by 405, as it does when nobody has said
// “DirectoryIndex disabled”.
func ApacheWithIndex(t testing.TB) *Server { return apache(t, Folder(t), "Basic", "index.html") }

const nginxConf = `
load_module /usr/lib/nginx/modules/ngx_http_dav_ext_module.so;
daemon off;
user www-data;
pid {conf}/pid;
error_log {conf}/error.log;
worker_processes 2;
events { worker_connections 256; }
http {
  include /etc/nginx/mime.types;
  access_log off;
  gzip on; gzip_types text/css text/plain;
  client_body_temp_path {conf}/body;
  client_max_body_size 64m;
  proxy_temp_path {conf}/p; fastcgi_temp_path {conf}/f; uwsgi_temp_path {conf}/u; scgi_temp_path {conf}/s;
  {zone}
  server {
    listen 127.0.0.1:{port};
    root {dir};
    auth_basic "site"; auth_basic_user_file {conf}/users;
    dav_methods PUT DELETE MKCOL COPY MOVE;
    dav_ext_methods PROPFIND OPTIONS {locks};
    {lock}
    dav_access user:rw group:r all:r;
  }
}
`

func nginxWith(t testing.TB, dir string, locks bool) *Server {
	t.Helper()
	conf := config(t, map[string]string{"users": User + ":{PLAIN}" + Password + "\n"})
	port := freePort(t)
	zone, methods, lock := "", "", ""
	if locks {
		zone, methods, lock = "dav_ext_lock_zone zone=locks:2m;", "LOCK UNLOCK", "dav_ext_lock zone=locks;"
	}
	write(
		t,
		conf+"/conf",
		fill(
			nginxConf,
			"{conf}",
			conf,
			"{port}",
			strconv.Itoa(port),
			"{dir}",
			dir,
			"{zone}",
			zone,
			"{locks}",
			methods,
			"{lock}",
			lock,
		),
	)
	s := run(
		t,
		dir,
		"nginx",
		port,
		func(p string) *exec.Cmd { return exec.Command(p, "-c", conf+"/conf", "-e", conf+"/error.log") },
	)
	return s
}

func nginx(t testing.TB, dir string) *Server        { return nginxWith(t, dir, true) }
func nginxNoLocks(t testing.TB, dir string) *Server { return nginxWith(t, dir, false) }

const lighttpdConf = `
server.modules = ("mod_auth", "mod_authn_file", "mod_webdav")
server.document-root = "{dir}"
server.bind = "127.0.0.1"
server.port = {port}
server.username = "www-data"
server.groupname = "www-data"
server.pid-file = "{conf}/pid"
server.errorlog = "{conf}/error.log"
server.upload-dirs = ("{conf}")
mimetype.assign = (".html" => "text/html", ".css" => "text/css", ".png" => "image/png")
webdav.activate = "enable"
webdav.sqlite-db-name = "{conf}/locks.db"
auth.backend = "plain"
auth.backend.plain.userfile = "{conf}/users"
auth.require = ("/" => ("method" => "basic", "realm" => "site", "require" => "valid-user"))
`

func lighttpd(t testing.TB, dir string) *Server {
	t.Helper()
	conf := config(t, map[string]string{"users": User + ":" + Password + "\n"})
	port := freePort(t)
	write(t, conf+"/conf", fill(lighttpdConf, "{conf}", conf, "{port}", strconv.Itoa(port), "{dir}", dir))
	return run(t, dir, "lighttpd", port, func(p string) *exec.Cmd { return exec.Command(p, "-D", "-f", conf+"/conf") })
}

func rclone(t testing.TB, dir string) *Server {
	t.Helper()
	conf := config(t, map[string]string{"none": ""})
	port := freePort(t)
	return run(t, dir, "rclone", port, func(p string) *exec.Cmd {
		return exec.Command(
			p,
			"serve",
			"webdav",
			dir,
			"--addr",
			fmt.Sprintf("127.0.0.1:%d", port),
			"--user",
			User,
			"--pass",
			Password,
			"--config",
			conf+"/none",
			"--cache-dir",
			conf+"/cache",
			"--dir-cache-time",
			"0s",
			"--etag-hash",
			"MD5",
		)
	})
}

// sabreScript is a host of the kind that many hosting panels are made of: WebDAV in PHP.
const sabreScript = `<?php
error_reporting(E_ALL & ~E_DEPRECATED & ~E_NOTICE & ~E_WARNING);
ini_set('display_errors', '0');
require '/usr/share/php/Sabre/autoload.php';
use Sabre\DAV;
class Keeper extends DAV\Auth\Backend\AbstractBasic {
  protected function validateUserPass($user, $pass) { return $user === {user} && $pass === {pass}; }
}
$server = new DAV\Server(new DAV\FS\Directory('{dir}'));
$server->setBaseUri('/');
$server->addPlugin(new DAV\Auth\Plugin(new Keeper(), 'site'));
$server->addPlugin(new DAV\Locks\Plugin(new DAV\Locks\Backend\File('{conf}/locks')));
$server->exec();
`

func sabre(t testing.TB, dir string) *Server {
	t.Helper()
	if _, err := os.Stat("/usr/share/php/Sabre/autoload.php"); err != nil {
		t.Skip("php-sabre-dav is not installed")
	}
	conf := config(t, map[string]string{"none": ""})
	port := freePort(t)
	write(t, conf+"/server.php", fill(sabreScript, "{dir}", dir, "{conf}", conf, "{user}", "'"+User+"'", "{pass}", "'"+Password+"'"))
	return run(t, dir, "php", port, func(p string) *exec.Cmd {
		c := exec.Command(p, "-d", "memory_limit=256M", "-S", fmt.Sprintf("127.0.0.1:%d", port), conf+"/server.php")
		c.Env = append(os.Environ(), "PHP_CLI_SERVER_WORKERS=4")
		return c
	})
}
