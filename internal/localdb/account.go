package localdb

import (
	"crypto/rand"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
)

// account is the one account of a private MariaDB. Its passphrase is letters and digits,
// so that it needs no quoting.
type account struct{ name, passphrase string }

func newAccount() account { return account{"grapnel", rand.Text()} }

func (a account) made() bool { return a.passphrase != "" }

// statements make the account and take all others away: who is not told the passphrase
// comes in neither by the port nor by the socket. MariaDB's own, which is locked, stays.
func (a account) statements() string {
	return fmt.Sprintf(`FLUSH PRIVILEGES;
CREATE OR REPLACE USER '%[1]s'@'127.0.0.1' IDENTIFIED BY '%[2]s';
GRANT ALL PRIVILEGES ON *.* TO '%[1]s'@'127.0.0.1' WITH GRANT OPTION;
DELETE FROM mysql.global_priv WHERE User NOT IN ('%[1]s', 'mariadb.sys');
DELETE FROM mysql.proxies_priv;
FLUSH PRIVILEGES;
`, a.name, a.passphrase)
}

// accountFile keeps the account, for its own user to read.
func (s *Server) accountFile() string { return filepath.Join(s.dir, "account") }

func (s *Server) readAccount() error {
	raw, err := os.ReadFile(s.accountFile())
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	if err != nil {
		return err
	}
	name, passphrase, ok := strings.Cut(strings.TrimSpace(string(raw)), "\n")
	if !ok || passphrase == "" {
		return fmt.Errorf("%s does not hold a name and a passphrase; remove it, and it is made anew", s.accountFile())
	}
	s.account = account{name, passphrase}
	return nil
}

func (s *Server) writeAccount(a account) error {
	fresh := s.accountFile() + ".new"
	if err := os.WriteFile(fresh, []byte(a.name+"\n"+a.passphrase+"\n"), 0o600); err != nil {
		return err
	}
	s.account = a
	return os.Rename(fresh, s.accountFile())
}
