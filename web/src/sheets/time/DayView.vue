<template><div></div></template>
