package main

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"math/big"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// certificate writes a certificate for this machine and its key, and returns who trusts it.
func certificate(t *testing.T) (cert, key string, trust *x509.CertPool) {
	t.Helper()
	private, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	require.NoError(t, err)
	template := &x509.Certificate{
		SerialNumber: big.NewInt(1), Subject: pkix.Name{CommonName: "office"}, NotBefore: time.Unix(0, 0),
		NotAfter:    time.Date(2999, time.December, 31, 0, 0, 0, 0, time.UTC),
		IPAddresses: []net.IP{net.IPv4(127, 0, 0, 1)}, IsCA: true, BasicConstraintsValid: true,
	}
	der, err := x509.CreateCertificate(rand.Reader, template, template, &private.PublicKey, private)
	require.NoError(t, err)
	keyDER, err := x509.MarshalECPrivateKey(private)
	require.NoError(t, err)
	cert, key = filepath.Join(t.TempDir(), "cert.pem"), filepath.Join(t.TempDir(), "key.pem")
	certPEM := pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der})
	require.NoError(t, os.WriteFile(cert, certPEM, 0o600))
	require.NoError(t, os.WriteFile(key, pem.EncodeToMemory(&pem.Block{Type: "EC PRIVATE KEY", Bytes: keyDER}), 0o600))
	trust = x509.NewCertPool()
	require.True(t, trust.AppendCertsFromPEM(certPEM))
	return cert, key, trust
}

func TestAnOfficeIsServedOverTLS(t *testing.T) {
	db := filepath.Join(t.TempDir(), "jarvo.db")
	openBook(t, db)
	cert, key, trust := certificate(t)
	s := serveProcess(t, db, "--tls-cert", cert, "--tls-key", key)
	t.Cleanup(s.kill)
	require.True(t, strings.HasPrefix(s.url, "https://"), s.url)
	client := &http.Client{Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: trust}}}
	response, err := client.Post(
		s.url+"/api/session", "application/json", strings.NewReader(`{"signIn":"`+bookSignIn+`","password":"`+bookWord+`"}`),
	)
	require.NoError(t, err)
	require.NoError(t, response.Body.Close())
	require.Equal(t, http.StatusOK, response.StatusCode)
	require.Len(t, response.Cookies(), 1)
	assert.True(t, response.Cookies()[0].Secure)
}

func TestACallThatCantBeServedIsRefused(t *testing.T) {
	db := filepath.Join(t.TempDir(), "jarvo.db")
	for _, args := range [][]string{{"--tls-cert", "a.pem"}, {"--tls-key", "a.pem"}, {"--trust-proxy", "the proxy"}} {
		assert.Equal(t, exitUsage, run(t.Context(), append([]string{"serve", "--db", db}, args...)), args)
	}
	assert.NoFileExists(t, db)
}
